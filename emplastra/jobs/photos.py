"""Photos: checked, turned upright, re-encoded without anything that was hidden in them."""

import hashlib
import io
import threading
from dataclasses import dataclass
from pathlib import Path

from django.conf import settings

from emplastra.shared.services import Refused, writes

from .models import Photo

MAX_BYTES, MAX_PIXELS = 15_000_000, 40_000_000
FORMATS = ("JPEG", "PNG", "WEBP")
LONG_SIDE, SMALL_SIDE = 2400, 480
_one_at_a_time = threading.BoundedSemaphore(1)
"""A large picture takes up to 160 MB while it is decoded: eight threads at once would take the machine."""


@dataclass(frozen=True)
class Picture:
    """A picture as it is kept: JPEG bytes, small JPEG bytes, width and height [px], hash."""

    whole: bytes
    small: bytes
    width: int
    height: int
    sha256: str


def clean(data):
    """A Picture of what was sent, upright and with no metadata.

    Raises Refused saying what would be accepted. The size is looked at before anything is decoded.
    """
    if len(data) > MAX_BYTES:
        raise Refused(f"has {len(data) / 1e6:.0f} MB: at most {MAX_BYTES / 1e6:.0f} MB", "photo")
    with _one_at_a_time:
        return _clean(data)


def _clean(data):
    from PIL import Image, ImageOps, UnidentifiedImageError

    try:
        with Image.open(io.BytesIO(data), formats=FORMATS) as found:
            if found.width * found.height > MAX_PIXELS:
                raise Refused(f"has {found.width * found.height / 1e6:.0f} megapixels: at most 40", "photo")
            # Made small as it is decoded, where its format can; no second picture of the whole size is ever held.
            found.thumbnail((LONG_SIDE, LONG_SIDE), reducing_gap=2.0)
            try:
                upright = ImageOps.exif_transpose(found).convert("RGB")
            except Exception:  # what the camera wrote beside the picture is broken: the picture is kept as it lies
                upright = found.convert("RGB")
    except Image.DecompressionBombError as error:
        raise Refused("has far too many pixels: at most 40 megapixels", "photo") from error
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError) as error:
        raise Refused("is not a picture that can be read: send a JPEG, PNG or WebP", "photo") from error
    small = upright.copy()
    small.thumbnail((SMALL_SIDE, SMALL_SIDE))
    # A new image holds pixels only: no place, no camera, no thumbnail of what was cut away.
    whole = _jpeg(upright)
    return Picture(whole, _jpeg(small), upright.width, upright.height, hashlib.sha256(whole).hexdigest())


def _jpeg(image):
    from PIL import Image

    bare = Image.new("RGB", image.size)
    bare.paste(image)
    out = io.BytesIO()
    bare.save(out, "JPEG", quality=86)
    return out.getvalue()


def sent(file):
    """A Picture of a file of a form, None where none was sent. Raises Refused like clean."""
    return clean(file.read(MAX_BYTES + 1)) if file else None


@writes
def keep(zone, user, picture, when, note="", finding=None):
    """Keep a photo of a zone."""
    photo = Photo(
        zone=zone,
        finding=finding,
        when=when,
        note=note[:120],
        sha256=picture.sha256,
        width=picture.width,
        height=picture.height,
        who=user,
    )
    write(photo, picture)
    photo.save()
    return photo


def write_bare(photo, data):
    """Put a picture's bytes as they are where its row says, if they are what this shop keeps: a JPEG of its size, with
    nothing hidden in it. Raises Refused.
    """
    from PIL import Image

    picture = clean(data)
    with Image.open(io.BytesIO(data), formats=("JPEG",)) as found:
        if found.getexif() or found.info.get("comment") or found.info.get("xmp"):
            raise Refused("has more in it than a picture", "photo")
    write(photo, Picture(data, picture.small, picture.width, picture.height, photo.sha256))


def write(photo, picture):
    """Put a picture's two files where its row (with `name`) says; what is there already is the same."""
    for name, content in ((photo.name, picture.whole), (small_name(photo), picture.small)):
        path = Path(settings.MEDIA_ROOT) / name
        path.parent.mkdir(parents=True, exist_ok=True)
        if not path.exists():
            path.write_bytes(content)


def file_of(photo, size=""):
    """The path of a photo's file, or of its small copy; None if it is not there."""
    path = Path(settings.MEDIA_ROOT) / (small_name(photo) if size == "small" else photo.name)
    return path if path.exists() else None


def small_name(photo):
    """The file of its small copy."""
    return photo.name.replace(".jpg", "-small.jpg")
