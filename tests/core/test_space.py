"""Frames: a box in a frame is the box round its eight corners, each put there by itself."""

from __future__ import annotations

from itertools import product

from hypothesis import given
from hypothesis import strategies as st

from rhombex.core.space import FACES, Box, Frame, face_frame, rotated, turned

mm = st.floats(-400, 400)
places = st.tuples(mm, mm, mm)
frames = st.one_of(
    st.builds(turned, places, st.sampled_from([0, 90, 180, 270])),
    st.builds(face_frame, st.sampled_from(FACES), places),
    st.builds(rotated, places, places.filter(lambda p: sum(c * c for c in p) > 1), st.floats(-360, 360)),
)


@given(frames, places, st.tuples(*[st.floats(0, 300)] * 3))
def test_a_box_in_a_frame_is_the_one_round_its_corners(
    frame: Frame, lo: tuple[float, ...], size: tuple[float, ...]
) -> None:
    box = Box((lo[0], lo[1], lo[2]), (lo[0] + size[0], lo[1] + size[1], lo[2] + size[2]))
    corners = [frame.point(p) for p in product(*zip(*box, strict=True))]
    found = frame.box(box)
    for k in range(3):
        assert found.lo[k] == min(c[k] for c in corners)
        assert found.hi[k] == max(c[k] for c in corners)
