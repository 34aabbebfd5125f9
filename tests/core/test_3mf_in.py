"""3MF in: what the build lists and nothing else, as large and where its transforms say (3MF core specification 1.3, chapters 3 and 4)."""

from __future__ import annotations

import io
import zipfile

import lib3mf
import numpy as np
import pytest
from manifold3d import Manifold

from rhombex.core.exchange.read_3mf import bodies_of_3mf, read_3mf
from rhombex.core.exchange.recognise import recognise
from rhombex.core.exchange.write_mesh import NamedMesh, three_mf
from rhombex.core.plain import DesignError

UNIT = Manifold.cube((1.0, 1.0, 1.0))


def _written(add: object) -> bytes:
    """A package written by the format's own library."""
    wrapper = lib3mf.get_wrapper()
    model = wrapper.CreateModel()
    add(wrapper, model)  # type: ignore[operator]
    return bytes(model.QueryWriter("3mf").WriteToBuffer())


def _cube(model: lib3mf.Model, name: str = "cube") -> lib3mf.MeshObject:
    obj = model.AddMeshObject()
    obj.SetName(name)
    corners = [(x, y, z) for x in (0.0, 1.0) for y in (0.0, 1.0) for z in (0.0, 1.0)]
    places = []
    for c in corners:
        p = lib3mf.Position()
        for k in range(3):
            p.Coordinates[k] = c[k]
        places.append(p)
    tris = []
    for t in (
        (0, 1, 3),
        (0, 3, 2),
        (4, 6, 7),
        (4, 7, 5),
        (0, 4, 5),
        (0, 5, 1),
        (2, 3, 7),
        (2, 7, 6),
        (0, 2, 6),
        (0, 6, 4),
        (1, 5, 7),
        (1, 7, 3),
    ):
        tri = lib3mf.Triangle()
        for k in range(3):
            tri.Indices[k] = t[k]
        tris.append(tri)
    obj.SetGeometry(places, tris)
    return obj


def _scaled(
    wrapper: lib3mf.Wrapper, by: tuple[float, float, float], at: tuple[float, float, float]
) -> lib3mf.Transform:
    t = wrapper.GetIdentityTransform()
    for k in range(3):
        t.Fields[k][k] = by[k]
        t.Fields[3][k] = at[k]
    return t


def test_a_scaled_body_is_as_large_as_its_build_item_says() -> None:
    data = _written(lambda w, m: m.AddBuildItem(_cube(m), _scaled(w, (30, 20, 10), (5, 6, 7))))
    p = read_3mf(data)
    assert p.min(axis=(0, 1)) == pytest.approx((5, 6, 7)) and p.max(axis=(0, 1)) == pytest.approx((35, 26, 17))
    assert recognise(data, "x.3mf")[0].size_mm == pytest.approx((30, 20, 10))


def test_what_is_not_built_is_left_out_and_what_is_built_twice_is_there_twice() -> None:
    def add(w: lib3mf.Wrapper, m: lib3mf.Model) -> None:
        one = _cube(m, "one")
        _cube(m, "helper")
        m.AddBuildItem(one, _scaled(w, (1, 1, 1), (0, 0, 0)))
        m.AddBuildItem(one, _scaled(w, (2, 2, 2), (10, 0, 0)))

    found = bodies_of_3mf(_written(add))
    assert [b.name for b in found] == ["one", "one"]
    assert [float(np.ptp(b.points[..., 0])) for b in found] == pytest.approx([1, 2])


def test_components_are_moved_one_within_another() -> None:
    """A cube scaled by 2 within a group moved by 10, built turned a quarter about z: (x, y) becomes (-y, x)."""

    def add(w: lib3mf.Wrapper, m: lib3mf.Model) -> None:
        cube, group = _cube(m), m.AddComponentsObject()
        group.AddComponent(cube, _scaled(w, (2, 2, 2), (0, 0, 0)))
        group.AddComponent(cube, _scaled(w, (1, 1, 1), (10, 0, 0)))
        turn = w.GetIdentityTransform()
        for i, row in enumerate(((0, 1, 0), (-1, 0, 0), (0, 0, 1), (0, 0, 5))):
            for k, v in enumerate(row):
                turn.Fields[i][k] = v
        m.AddBuildItem(group, turn)

    (b,) = bodies_of_3mf(_written(add))
    assert b.points.min(axis=(0, 1)) == pytest.approx((-2, 0, 5)) and b.points.max(axis=(0, 1)) == pytest.approx(
        (0, 11, 7)
    )


def _package(models: dict[str, str], relations: str = "") -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as z:
        if relations:
            z.writestr("_rels/.rels", relations)
        for name, text in models.items():
            z.writestr(name, f'<?xml version="1.0"?>{text}')
    return out.getvalue()


MESH = (
    '<mesh><vertices><vertex x="0" y="0" z="0"/><vertex x="3" y="0" z="0"/><vertex x="0" y="4" z="0"/><vertex x="0" y="0" z="5"/></vertices>'
    '<triangles><triangle v1="0" v2="2" v3="1"/><triangle v1="0" v2="1" v3="3"/><triangle v1="0" v2="3" v3="2"/><triangle v1="1" v2="2" v3="3"/>'
    "</triangles></mesh>"
)
PROD = 'xmlns:p="http://schemas.microsoft.com/3dmanufacturing/production/2015/06"'


def test_objects_in_other_parts_of_the_package_are_found() -> None:
    """3MF production extension: a component names the part that its object is in; the package names its own main model."""
    data = _package(
        {
            "3D/main.model": f'<model unit="millimeter" {PROD}><resources><object id="2"><components><component p:path="/3D/other.model" '
            'objectid="1" transform="1 0 0 0 1 0 0 0 1 7 0 0"/></components></object></resources><build><item objectid="2"/></build></model>',
            "3D/other.model": f'<model unit="millimeter"><resources><object id="1">{MESH}</object></resources><build/></model>',
        },
        '<Relationships xmlns="x"><Relationship Id="r" Target="/3D/main.model" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>',
    )
    p = read_3mf(data)
    assert p.min(axis=(0, 1)) == pytest.approx((7, 0, 0)) and p.max(axis=(0, 1)) == pytest.approx((10, 4, 5))


def test_a_mirrored_body_keeps_its_inside_in() -> None:
    """Six times the volume by the divergence theorem is positive both ways."""
    for by in ("1 0 0 0 1 0 0 0 1 0 0 0", "-1 0 0 0 1 0 0 0 1 0 0 0"):
        data = _package(
            {
                "3D/3dmodel.model": f'<model unit="millimeter"><resources><object id="1">{MESH}</object></resources><build><item objectid="1" transform="{by}"/></build></model>'
            }
        )
        p = read_3mf(data)
        assert np.einsum("ij,ij->", p[:, 0], np.cross(p[:, 1], p[:, 2])) == pytest.approx(60)


def test_supports_of_others_are_no_part() -> None:
    text = (
        f'<model unit="millimeter"><resources><object id="1">{MESH}</object><object id="2" type="support">{MESH}</object></resources>'
        '<build><item objectid="1"/><item objectid="2" transform="1 0 0 0 1 0 0 0 1 50 0 0"/></build></model>'
    )
    assert read_3mf(_package({"3D/3dmodel.model": text})).max() == pytest.approx(5)


@pytest.mark.parametrize(
    ("resources", "build", "said"),
    [
        (f'<object id="1">{MESH}</object>', "", "builds nothing"),
        (f'<object id="1">{MESH}</object>', '<item objectid="9"/>', "object 9 that it does not have"),
        (f'<object id="1">{MESH}</object>', '<item objectid="1" transform="1 0 0"/>', "3 numbers; twelve"),
        (
            f'<object id="1">{MESH}</object>',
            '<item objectid="1" transform="0 0 0 0 0 0 0 0 0 0 0 0"/>',
            "leaves nothing",
        ),
        (
            '<object id="1"><components><component objectid="1"/></components></object>',
            '<item objectid="1"/>',
            "16 deep",
        ),
        (
            f'<object id="1">{MESH}</object>'
            + "".join(
                f'<object id="{k}"><components>' + f'<component objectid="{k - 1}"/>' * 10 + "</components></object>"
                for k in range(2, 14)
            ),
            '<item objectid="13"/>',
            "20000 objects",
        ),
    ],
)
def test_a_build_that_cannot_be_is_refused_plainly(resources: str, build: str, said: str) -> None:
    data = _package(
        {
            "3D/3dmodel.model": f'<model unit="millimeter"><resources>{resources}</resources><build>{build}</build></model>'
        }
    )
    with pytest.raises(DesignError, match=said) as e:
        read_3mf(data)
    assert e.value.message.startswith("the 3MF ")


def test_a_set_of_ours_comes_back_as_it_was_laid() -> None:
    box = Manifold.cube((30.0, 20.0, 10.0))
    data = three_mf(
        [NamedMesh("a", box, (1, 2, 3), (5.0, 6.0)), NamedMesh("b", box, (1, 2, 3), (50.0, 6.0), 90.0)], "set"
    )
    a, b = bodies_of_3mf(data)
    assert a.points.min(axis=(0, 1)) == pytest.approx((5, 6, 0)) and a.points.max(axis=(0, 1)) == pytest.approx(
        (35, 26, 10)
    )
    assert b.points.min(axis=(0, 1)) == pytest.approx((50, 6, 0)) and b.points.max(axis=(0, 1)) == pytest.approx(
        (70, 36, 10)
    )
