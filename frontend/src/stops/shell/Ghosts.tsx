import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import * as THREE from "three";

import type { StateOut } from "../../api/schema";
import { useUi } from "../../desk/desk";
import { ghostOf } from "../../sheet/ghost";
import type { Ink } from "./ink";

/** What the remedy under the hand would move: things in their new places, and the walls. */
export function Ghosts({ state, ink }: { state: StateOut; ink: Ink }) {
  const { solids, box } = ghostOf(
    useUi((s) => s.ghost),
    state.view.things,
    state.view.case.box_mm,
  );
  const { invalidate } = useThree();
  useEffect(() => {
    invalidate();
  });
  return (
    <>
      {[...solids, ...(box ? [box] : [])].map((b, i) => (
        <Edges key={i} lo={b.lo} hi={b.hi} colour={ink.base} />
      ))}
    </>
  );
}

/** The twelve edges of a box, seen through all that stands before it. */
function Edges({ lo, hi, colour }: { lo: readonly number[]; hi: readonly number[]; colour: string }) {
  const [w, d, h] = [0, 1, 2].map((i) => hi[i]! - lo[i]!) as [number, number, number];
  const edges = useMemo(() => new THREE.EdgesGeometry(new THREE.BoxGeometry(w, d, h)), [w, d, h]);
  useEffect(
    () => () => {
      edges.dispose();
    },
    [edges],
  );
  return (
    <lineSegments
      geometry={edges}
      position={[lo[0]! + w / 2, lo[1]! + d / 2, lo[2]! + h / 2]}
      renderOrder={9}
    >
      <lineBasicMaterial color={colour} depthTest={false} />
    </lineSegments>
  );
}
