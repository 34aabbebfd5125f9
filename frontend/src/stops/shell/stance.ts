import * as THREE from "three";

import type { StateOut } from "../../api/schema";

/** From the case's frame to the one that it stands in. */
export function stance(frame: StateOut["view"]["stands"]["frame"]): THREE.Matrix4 {
  const [origin, x, y, z] = frame.map((v) => new THREE.Vector3(...v)) as [
    THREE.Vector3,
    THREE.Vector3,
    THREE.Vector3,
    THREE.Vector3,
  ];
  return new THREE.Matrix4().makeBasis(x, y, z).setPosition(origin).invert();
}

/** A way of the case's frame as the case stands. */
export function stoodWay(state: StateOut, way: readonly number[]): [number, number, number] {
  const [, x, y, z] = state.view.stands.frame;
  const along = (axis: readonly number[]) => axis.reduce((sum, a, i) => sum + a * way[i]!, 0);
  return [along(x), along(y), along(z)];
}
