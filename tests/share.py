"""Print the share of test lines: tests ÷ (tests + Python + templates + own JavaScript), blanks left out."""

from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]


def lines(paths):
    """Lines that are not blank."""
    return sum(1 for path in paths for line in path.read_text(errors="replace").splitlines() if line.strip())


if __name__ == "__main__":
    own = [p for end in ("*.py", "*.html", "*.js") for p in (ROOT / "emplastra").rglob(end)]
    code = lines(p for p in own if not {"migrations", "vendor"} & set(p.parts)) + lines([ROOT / "manage.py"])
    tests = lines((ROOT / "tests").rglob("*.py"))
    print(f"Test lines: {tests} of {tests + code}, {100 * tests / (tests + code):.0f} %")
