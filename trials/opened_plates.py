"""What an opening costs a plate, by finite elements: prints the tables of `limits.opened`. Wants `pip install scikit-fem`, which nothing else here does."""

from __future__ import annotations

import numpy as np
from skfem import Basis, BilinearForm, ElementTriMorley, MeshTri, condense
from skfem import solve as solved
from skfem.helpers import dd, ddot, eye, trace

NU = 0.35
RATIOS = (1.0, 1.5, 2.5)
SHARES = (0.03, 0.1, 0.25, 0.4, 0.55, 0.7)


@BilinearForm
def bending(u, v, _):  # type: ignore[no-untyped-def]
    moment = (1 - NU) * dd(u) + NU * eye(trace(dd(u)), 2)
    return ddot(moment, dd(v))


def lines(length: float, share: float, at: float, n: int) -> np.ndarray:
    """Lines of the mesh along a side, some of them at the edges of the opening and one through its middle."""
    if share <= 0:
        return np.linspace(0, length, n + 1)
    lo, hi = at - share * length / 2, at + share * length / 2
    parts = [(0.0, lo), (lo, at), (at, hi), (hi, length)]
    out = [np.array([0.0])]
    for a, b in parts:
        out.append(np.linspace(a, b, max(3, round(n * (b - a) / length)) + 1)[1:])
    return np.concatenate(out)


def gives_way(ratio: float, r: float, s: float, at: tuple[float, float] = (0.5, 0.5), n: int = 48) -> float:
    """Deflection under a load of 1 at the worst of its edges' middles, of a plate 1 x ratio with D = 1, held all round, with an opening of r x s of its sides."""
    x0, y0 = at[0], at[1] * ratio
    mesh = MeshTri.init_tensor(lines(1.0, r, x0, n), lines(ratio, s, y0, round(n * min(ratio, 1.5))))
    points = [(x0, y0)]
    if r > 0:
        middle = mesh.p[:, mesh.t].mean(axis=1)
        within = (abs(middle[0] - x0) < r / 2) & (abs(middle[1] - y0) < s * ratio / 2)
        mesh = mesh.remove_elements(np.nonzero(within)[0])
        points = [(x0 - r / 2, y0), (x0 + r / 2, y0), (x0, y0 - s * ratio / 2), (x0, y0 + s * ratio / 2)]
    basis = Basis(mesh, ElementTriMorley())
    matrix = bending.assemble(basis)
    held = basis.get_dofs(
        lambda x: np.isclose(x[0], 0) | np.isclose(x[0], 1) | np.isclose(x[1], 0) | np.isclose(x[1], ratio)
    ).all(["u"])
    worst = 0.0
    for x, y in points:
        i = int(np.argmin((mesh.p[0] - x) ** 2 + (mesh.p[1] - y) ** 2))
        load = np.zeros(basis.N)
        k = basis.nodal_dofs[0, i]
        load[k] = 1.0
        worst = max(worst, float(solved(*condense(matrix, load, D=held))[k]))
    return worst


def main() -> None:
    print("square, whole: 0.01160 by Timoshenko and Woinowsky-Krieger,", round(gives_way(1, 0, 0), 5))
    for ratio in RATIOS:
        whole = gives_way(ratio, 0, 0)
        rows = [[round(gives_way(ratio, r, s) / whole, 2) for s in SHARES] for r in SHARES]
        print(ratio, [x for row in rows for x in row])
    for ratio, r, s in ((1.5, 0.25, 0.25), (1.0, 0.4, 0.25), (2.5, 0.1, 0.4)):
        whole, middle = gives_way(ratio, 0, 0), gives_way(ratio, r, s)
        for at in ((0.35, 0.5), (0.5, 0.25), (0.3, 0.3), (0.25, 0.22)):
            off = gives_way(ratio, r, s, at) / whole
            near = [min(0.5, x + d / 2) for x, d in zip(at, (r, s), strict=True)]
            rule = middle / whole * np.prod([np.sin(np.pi * x) ** 2 for x in near])
            print(ratio, (r, s), "off the middle", at, round(off, 2), "by the rule", round(max(1.0, float(rule)), 2))


main()
