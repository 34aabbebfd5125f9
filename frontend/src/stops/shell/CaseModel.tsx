import { useFrame, useThree } from "@react-three/fiber";
import { useSuspenseQueries } from "@tanstack/react-query";
import { useEffect, useMemo, useRef } from "react";
import * as THREE from "three";

import type { StateOut } from "../../api/schema";
import { Contents } from "./Contents";
import { Ghosts } from "./Ghosts";
import { type Ink, useInk } from "./ink";
import { Opened } from "./Opened";
import { type Cut, Section } from "./Section";
import { stance } from "./stance";

async function fetchMesh(digest: string) {
  const r = await fetch(`/api/meshes/${digest}`);
  if (!r.ok) throw new Error("the mesh is no longer at hand");
  const data = await r.arrayBuffer();
  const [tris = 0, edges = 0] = new Uint32Array(data, 0, 2);
  const faces = new THREE.BufferGeometry();
  faces.setAttribute("position", new THREE.BufferAttribute(new Float32Array(data, 8, tris * 9), 3));
  faces.computeVertexNormals();
  const lines = new THREE.BufferGeometry();
  lines.setAttribute(
    "position",
    new THREE.BufferAttribute(new Float32Array(data, 8 + tris * 36, edges * 6), 3),
  );
  return { faces, lines };
}

// bought sheet: its colour, and how much of what is behind it is seen
const SHEET = {
  acrylic: { ink: "slate", seen: 0.22 },
  plywood: { ink: "saffron", seen: 0.9 },
  aluminium: { ink: "slate", seen: 0.9 },
  glass: { ink: "slate", seen: 0.16 },
  mesh: { ink: "slate", seen: 0.5 },
} as const;

export interface Model {
  state: StateOut;
  /** 0 closed, 1 wide open. */
  open: number;
  cut: Cut | null;
  /** Whether components are drawn. */
  parts: boolean;
  /** The part that is chosen in the list: the others are drawn paler. */
  chosen: string | null;
}

/** The pieces as they are opened and cut, the components in them, and what a remedy would move. */
export function CaseModel({
  state,
  open,
  cut,
  parts,
  chosen,
  onReady,
}: Model & { onReady: (r: boolean) => void }) {
  const ink = useInk();
  const { view } = state;
  const bodies = [
    ...view.pieces.map((p) => ({ ...p, material: null })),
    ...view.sheets.map((s) => ({
      name: s.part,
      part: s.part,
      case_digest: s.case_digest,
      material: s.material,
    })),
  ];
  const meshes = useSuspenseQueries({
    queries: bodies.map((p) => ({
      queryKey: ["mesh", p.case_digest],
      queryFn: () => fetchMesh(p.case_digest),
      staleTime: Infinity,
    })),
  });
  const planes = useMemo(() => {
    if (!cut) return [];
    // what lies before the plane, seen from the usual place, is taken away: to the right, in front, above
    const turn = stance(view.stands.frame);
    const axis = new THREE.Vector3(+(cut.axis === "x"), +(cut.axis === "y"), +(cut.axis === "z"));
    const on = axis.clone().multiplyScalar(cut.at).applyMatrix4(turn);
    const normal = axis.transformDirection(turn);
    const away = normal.x - normal.y + normal.z;
    return [new THREE.Plane().setFromNormalAndCoplanarPoint(normal.multiplyScalar(-Math.sign(away)), on)];
  }, [cut, view.stands.frame]);
  const { invalidate } = useThree();
  useEffect(() => {
    invalidate();
  }, [planes, ink, meshes, parts, chosen, invalidate]);
  const told = useRef(false);
  useFrame(() => {
    if (told.current) return;
    told.current = true;
    requestAnimationFrame(() => {
      onReady(true);
    });
  });
  return (
    <>
      {bodies.map((p, i) => {
        const { faces, lines } = meshes[i]!.data;
        const sheet = p.material && SHEET[p.material];
        const pale = chosen !== null && chosen !== p.part;
        const pieces = bodies.filter((q) => q.part === p.part);
        const along = view.cuts.find((c) => c.part === p.part)?.cuts[0]?.axis ?? "x";
        const apart = (pieces.indexOf(p) - (pieces.length - 1) / 2) * open * 40;
        const way = view.case.parts.find((q) => q.name === p.part)?.put_on;
        const at: [number, number, number] = [
          along === "x" ? apart : 0,
          along === "y" ? apart : 0,
          along === "z" ? apart : 0,
        ];
        return (
          <Opened key={p.name} state={state} part={p.part} open={open}>
            <group position={at}>
              <mesh geometry={faces}>
                <meshLambertMaterial
                  color={new THREE.Color(sheet ? ink[sheet.ink] : way ? ink.lid : ink.base).lerp(
                    new THREE.Color(ink.leaf),
                    pale ? 0.82 : chosen === p.part ? 0.1 : 0.36,
                  )}
                  transparent={Boolean(sheet && sheet.seen < 0.5)}
                  opacity={sheet ? sheet.seen : 1}
                  depthWrite={!sheet || sheet.seen > 0.5}
                  flatShading
                  side={cut ? THREE.DoubleSide : THREE.FrontSide}
                  clippingPlanes={planes}
                  polygonOffset
                  polygonOffsetFactor={1}
                  polygonOffsetUnits={1}
                />
              </mesh>
              <lineSegments geometry={lines}>
                <lineBasicMaterial color={ink.ink} clippingPlanes={planes} transparent opacity={0.75} />
              </lineSegments>
            </group>
          </Opened>
        );
      })}
      <StuckFeet state={state} ink={ink} planes={planes} />
      {parts && <Contents state={state} ink={ink} planes={planes} open={open} />}
      {cut && <Section state={state} cut={cut} ink={ink} />}
      <Ghosts state={state} ink={ink} />
    </>
  );
}

/** The feet that are stuck or screwed on, which are bought and no pieces. */
function StuckFeet({ state, ink, planes }: { state: StateOut; ink: Ink; planes: THREE.Plane[] }) {
  const { feet, foot_mm, frame } = state.view.stands;
  const [d, high] = foot_mm;
  const up = frame[3];
  const turn: [number, number, number] = up[2]
    ? [Math.PI / 2, 0, 0]
    : up[0]
      ? [0, 0, Math.PI / 2]
      : [0, 0, 0];
  return (
    <>
      {feet.map((at, i) => (
        <mesh
          key={i}
          position={at.map((x, k) => x - (up[k]! * high) / 2) as [number, number, number]}
          rotation={turn}
        >
          <cylinderGeometry args={[d / 2, d / 2, high, 24]} />
          <meshLambertMaterial color={ink.ink} clippingPlanes={planes} />
        </mesh>
      ))}
    </>
  );
}
