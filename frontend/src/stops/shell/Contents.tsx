import { useEffect, useMemo } from "react";
import * as THREE from "three";
import { ConvexGeometry } from "three/addons/geometries/ConvexGeometry.js";

import type { StateOut } from "../../api/schema";
import type { Ink } from "./ink";
import { Opened } from "./Opened";

// which of the drawing's colours a kind of component has; boards are told by their role
const KIND: Record<string, "base" | "lid" | "slate" | "saffron" | "vermilion"> = {
  fan: "saffron",
  cooler: "saffron",
  radiator: "saffron",
  supply: "vermilion",
  inlet: "vermilion",
  button: "base",
  display: "base",
};

function Convex({ corners }: { corners: readonly (readonly number[])[] }) {
  const shape = useMemo(
    () => new ConvexGeometry(corners.map((c) => new THREE.Vector3(c[0], c[1], c[2]))),
    [corners],
  );
  return <primitive object={shape} attach="geometry" />;
}

/** The components as plain bodies, so that one sees what the shell is built round. */
export function Contents({
  state,
  ink,
  planes,
  open,
}: {
  state: StateOut;
  ink: Ink;
  planes: THREE.Plane[];
  /** How far the case is opened: what is fixed to a part goes along. */
  open: number;
}) {
  return (
    <>
      {state.view.things.map((t) => (
        <Opened key={t.id} state={state} part={t.comes_with} open={open}>
          {t.solids
            .filter((s) => s.role !== "plug" && s.role !== "keepout")
            .map((s) => {
              const size = [0, 1, 2].map((i) => s.hi[i]! - s.lo[i]!) as [number, number, number];
              const at = [0, 1, 2].map((i) => (s.hi[i]! + s.lo[i]!) / 2) as [number, number, number];
              const turn: [number, number, number] =
                s.round_axis === 0
                  ? [0, 0, Math.PI / 2]
                  : s.round_axis === 2
                    ? [Math.PI / 2, 0, 0]
                    : [0, 0, 0];
              return (
                <mesh key={s.name} position={s.corners.length ? [0, 0, 0] : at} rotation={turn}>
                  {s.corners.length ? (
                    <Convex corners={s.corners} />
                  ) : s.round_axis === null ? (
                    <boxGeometry args={size} />
                  ) : (
                    <cylinderGeometry
                      args={[
                        size[(s.round_axis + 1) % 3]! / 2,
                        size[(s.round_axis + 1) % 3]! / 2,
                        size[s.round_axis],
                        32,
                      ]}
                    />
                  )}
                  <meshLambertMaterial
                    color={new THREE.Color(
                      s.role === "board" ? ink.lid : ink[KIND[t.family] ?? "slate"],
                    ).lerp(
                      new THREE.Color(ink.leaf),
                      s.role === "board" ? 0.25 : s.role === "connector" ? 0.6 : 0.35,
                    )}
                    clippingPlanes={planes}
                  />
                </mesh>
              );
            })}
          <Name thing={t} up={state.view.stands.frame[3]} ink={ink} planes={planes} />
        </Opened>
      ))}
      {state.view.case.mounts
        .filter((m) => m.holding === "nut")
        .map((m) => (
          <Opened key={`${m.of} ${m.mount}`} state={state} part={m.part} open={open}>
            <mesh position={[m.at[0], m.at[1], m.top_mm + m.standoff_mm / 2]} rotation={[Math.PI / 2, 0, 0]}>
              <cylinderGeometry args={[m.od_mm / 2, m.od_mm / 2, m.standoff_mm, 6]} />
              <meshLambertMaterial color={ink.slate} flatShading clippingPlanes={planes} />
            </mesh>
          </Opened>
        ))}
    </>
  );
}

const NAME_MM = 6;

/** A component's name over its top, turned to whoever looks. */
function Name({
  thing: t,
  up,
  ink,
  planes,
}: {
  thing: StateOut["view"]["things"][number];
  /** Which way is up as the case stands. */
  up: readonly number[];
  ink: Ink;
  planes: THREE.Plane[];
}) {
  const solids = t.solids.filter((s) => s.role !== "plug" && s.role !== "keepout");
  const made = useMemo(() => {
    const canvas = document.createElement("canvas");
    const pen = canvas.getContext("2d")!;
    const font = "500 44px 'Instrument Sans Variable', sans-serif";
    pen.font = font;
    canvas.width = Math.ceil(pen.measureText(t.name).width) + 24;
    canvas.height = 60;
    pen.font = font;
    pen.fillStyle = ink.leaf;
    pen.fillRect(0, 0, canvas.width, canvas.height);
    pen.fillStyle = ink.ink;
    pen.textBaseline = "middle";
    pen.fillText(t.name, 12, 31);
    return { map: new THREE.CanvasTexture(canvas), wide: canvas.width / canvas.height };
  }, [t.name, ink]);
  useEffect(
    () => () => {
      made.map.dispose();
    },
    [made],
  );
  if (!solids.length) return null;
  // what rides on another has its name above the other's
  const over = NAME_MM + (t.rides_on ? 1.5 * NAME_MM : 0);
  const at = [0, 1, 2].map((i) => {
    const [lo, hi] = [Math.min(...solids.map((s) => s.lo[i]!)), Math.max(...solids.map((s) => s.hi[i]!))];
    return up[i]! > 0 ? hi + over : up[i]! < 0 ? lo - over : (lo + hi) / 2;
  }) as [number, number, number];
  return (
    <sprite position={at} scale={[NAME_MM * made.wide, NAME_MM, 1]}>
      <spriteMaterial map={made.map} clippingPlanes={planes} />
    </sprite>
  );
}
