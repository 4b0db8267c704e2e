"""Names of people: compared as they look, not as they are typed."""

import unicodedata


def name_key(name):
    """What two names share that look alike: no case, no invisible signs, one form of each letter, single spaces."""
    plain = unicodedata.normalize("NFKC", name)
    seen = "".join(c for c in plain if unicodedata.category(c) not in {"Cc", "Cf", "Cs", "Co", "Cn"} or c.isspace())
    return unicodedata.normalize("NFKC", " ".join(seen.casefold().split()))
