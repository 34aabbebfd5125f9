"""`python -m rhombex.cli`."""

from __future__ import annotations

from rhombex.cli import app

if __name__ == "__main__":
    app()
