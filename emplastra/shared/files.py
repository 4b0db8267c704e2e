"""Small files that are there whole or not at all."""

import os
import tempfile
from pathlib import Path


def write_whole(path, data):
    """Put bytes in place of a file by one rename; what was written beside goes if that fails. Raises OSError.

    The file is its owner's alone.
    """
    path = Path(path)
    path.parent.mkdir(parents=True, exist_ok=True)
    handle, spare = tempfile.mkstemp(dir=path.parent, prefix=f".{path.name}-")
    try:
        with os.fdopen(handle, "wb") as out:
            out.write(data)
        os.replace(spare, path)
    except BaseException:
        os.unlink(spare)
        raise
