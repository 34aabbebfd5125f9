"""A server killed while files are uploaded; a sample of `trials/uploads.py`."""

from __future__ import annotations

from pathlib import Path

from .uploader import killed_while_uploading, not_there


def test_uploads_that_were_answered_for_outlive_a_kill(tmp_path: Path) -> None:
    said = killed_while_uploading(tmp_path, 0, 2.5, both=True)
    assert not_there(tmp_path, said) == []
    assert {kind for kind, _, _ in said} == {"design", "part"}
