"""The computation: pure Python, one module per topic.

Nothing here imports Django, reads a file or asks the clock. Times are seconds since the epoch,
UTC, as floats (``t_s``); other units stand in the names.
"""
