"""The computation: pure Python, packages by topic, one module for each thing computed.

Nothing here imports Django, reads a file or asks the clock. Times are seconds since the epoch,
UTC, as floats (``t_s``); other units stand in the names.
"""
