"""``python -m elvatch`` is the command ``elvatch``."""

from elvatch.cli import main

if __name__ == "__main__":
    raise SystemExit(main())
