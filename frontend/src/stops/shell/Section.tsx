import { useThree } from "@react-three/fiber";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo } from "react";
import * as THREE from "three";

import { api } from "../../api/client";
import type { StateOut } from "../../api/schema";
import type { Ink } from "./ink";

export interface Cut {
  axis: "x" | "y" | "z";
  at: number;
}

const AXIS = { x: 0, y: 1, z: 2 } as const;

/** The cut faces, as the core cuts them. */
export function Section({ state, cut, ink }: { state: StateOut; cut: Cut; ink: Ink }) {
  const at = Math.round(cut.at * 5) / 5;
  const section = useQuery({
    queryKey: ["section", state.id, state.version, cut.axis, at],
    placeholderData: (old) => old,
    queryFn: async () =>
      (
        await api.GET("/api/designs/{id}/section", {
          params: { path: { id: state.id }, query: { axis: cut.axis, at } },
        })
      ).data?.pieces ?? [],
  });
  const { invalidate } = useThree();
  const geometry = useMemo(() => {
    const path = new THREE.ShapePath();
    for (const piece of section.data ?? [])
      for (const loop of piece.loops) {
        loop.forEach(([x, y], i) => (i === 0 ? path.moveTo(x, y) : path.lineTo(x, y)));
        const first = loop[0];
        if (first) path.lineTo(first[0], first[1]);
      }
    const flat = new THREE.ShapeGeometry(path.toShapes());
    const p = flat.getAttribute("position");
    const spot = AXIS[cut.axis];
    for (let i = 0; i < p.count; i++) {
      const [u, v] = [p.getX(i), p.getY(i)];
      const xyz = spot === 0 ? [at, u, v] : spot === 1 ? [u, at, v] : [u, v, at];
      p.setXYZ(i, xyz[0]!, xyz[1]!, xyz[2]!);
    }
    return flat;
  }, [section.data, cut.axis, at]);
  useEffect(() => {
    invalidate();
  }, [geometry, invalidate]);
  return (
    <mesh geometry={geometry}>
      <meshBasicMaterial color={ink.base} side={THREE.DoubleSide} />
    </mesh>
  );
}
