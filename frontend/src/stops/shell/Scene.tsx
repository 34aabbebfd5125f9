import { Canvas, useFrame, useThree } from "@react-three/fiber";
import { useQuery, useSuspenseQueries } from "@tanstack/react-query";
import { type ReactNode, Suspense, useDeferredValue, useEffect, useMemo, useRef, useState } from "react";
import * as THREE from "three";
import { OrbitControls } from "three/addons/controls/OrbitControls.js";
import { ConvexGeometry } from "three/addons/geometries/ConvexGeometry.js";

import { api } from "../../api/client";
import type { StateOut } from "../../api/schema";
import { useUi } from "../../desk/desk";
import { ghostOf } from "../../sheet/ghost";
import { lifted, Opened, TURNED, UNDER } from "./Opened";

const BAR_PX = 48; // the rows over and under the picture, which nothing covers
export type Look = "corner" | "front" | "above" | "back";
interface Cut {
  axis: "x" | "y" | "z";
  at: number;
}
interface Props {
  state: StateOut;
  /** The same design with what is typed or pointed at: this is drawn, where `state` stood. */
  there?: StateOut;
  /** 0 closed, 1 wide open. */
  open: number;
  cut: Cut | null;
  look: Look;
  parts: boolean;
  /** The part that is chosen in the list: the others are drawn paler. */
  chosen: string | null;
  /** Drawn as large as these would be: two cases side by side at one scale. */
  beside?: StateOut;
  /** How much of the picture's right side something else lies on, px: the case is drawn beside it. */
  aside?: number;
}

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

const AXIS = { x: 0, y: 1, z: 2 } as const;

function token(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(name).trim() || "#888888";
}

/** Colours of the drawing, taken from the page's tokens and again when day and night change. */
function useInk() {
  const read = () => ({
    base: token("--plum"),
    lid: token("--verdigris"),
    ink: token("--ink"),
    leaf: token("--leaf"),
    slate: token("--slate"),
    saffron: token("--saffron"),
    vermilion: token("--vermilion"),
  });
  const [ink, setInk] = useState(read);
  useEffect(() => {
    const seen = new MutationObserver(() => {
      setInk(read());
    });
    seen.observe(document.documentElement, { attributes: true, attributeFilter: ["data-theme"] });
    return () => {
      seen.disconnect();
    };
  }, []);
  return ink;
}

export function Scene({ state, there = state, beside, ...props }: Props) {
  const [ready, setReady] = useState(false);
  const [w, d, h] = state.view.stands.size_mm;
  return (
    <div
      className="h-full w-full"
      role="img"
      aria-label={`The case in 3D, ${w.toFixed(0)} by ${d.toFixed(0)} by ${h.toFixed(0)} mm`}
      data-ready={ready}
    >
      <Canvas
        frameloop="demand"
        orthographic
        gl={{ antialias: true, localClippingEnabled: true }}
        camera={{ near: -2000, far: 4000, zoom: 2.4, up: [0, 0, 1], position: [300, -400, 320] }}
        onCreated={({ gl }) => {
          gl.localClippingEnabled = true;
        }}
      >
        <ambientLight intensity={1.9} />
        <directionalLight position={[200, -300, 500]} intensity={1.7} />
        <directionalLight position={[-300, 200, 200]} intensity={0.5} />
        <Inside {...props} state={state} there={there} beside={beside} onReady={setReady} />
      </Canvas>
    </div>
  );
}

/** The case and who looks at it. Meshes may be on their way: until they are there, all stays as it was. */
function Inside(o: Props & { there: StateOut; onReady: (r: boolean) => void }) {
  const { state, look, open, beside, aside = 0 } = o;
  const there = useDeferredValue(o.there);
  return (
    <>
      <Suspense fallback={null}>
        <Stood state={there}>
          <CaseModel {...o} state={there} />
        </Stood>
      </Suspense>
      <Camera
        look={look}
        size={bowed(state)}
        low={low(state)}
        rise={Math.max(raised(state, open), raised(there, open))}
        open={open}
        level={reach(state)}
        frame={larger(state, beside ?? there)}
        aside={aside}
      />
    </>
  );
}

/** Turns what is drawn in the case's frame so that it stands as the case does. */
function Stood({ state, children }: { state: StateOut; children: ReactNode }) {
  const { frame } = state.view.stands;
  const matrix = useMemo(() => stance(frame), [frame]);
  return (
    <group matrix={matrix} matrixAutoUpdate={false}>
      {children}
    </group>
  );
}

/** From the case's frame to the one that it stands in. */
function stance(frame: StateOut["view"]["stands"]["frame"]): THREE.Matrix4 {
  const [origin, x, y, z] = frame.map((v) => new THREE.Vector3(...v)) as [
    THREE.Vector3,
    THREE.Vector3,
    THREE.Vector3,
    THREE.Vector3,
  ];
  return new THREE.Matrix4().makeBasis(x, y, z).setPosition(origin).invert();
}

/** A way of the case's frame as the case stands. */
function stoodWay(state: StateOut, way: readonly number[]): [number, number, number] {
  const [, x, y, z] = state.view.stands.frame;
  const along = (axis: readonly number[]) => axis.reduce((sum, a, i) => sum + a * way[i]!, 0);
  return [along(x), along(y), along(z)];
}

/** How large a case is with its handle, on the side that this stands on, and with what comes out under it. */
function bowed(state: StateOut): [number, number, number] {
  const [w, d, h] = state.view.stands.size_mm;
  const bow = state.view.case.handle;
  const [x, y, z] = stoodWay(state, [0, 0, bow ? bow.room_mm + bow.bar_mm : 0]);
  return [w + Math.abs(x), d + Math.abs(y), h + low(state) + Math.abs(z)];
}

/** How far printed feet come out under a case that is wide open. */
function low(state: StateOut): number {
  const { foot, feet } = state.view.case;
  return foot?.stud_mm && feet.length ? foot.high_mm + UNDER : 0;
}

const USUAL_OPEN = 0.35; // so far open there is room over the case for what is lifted

/** How high a lid on hinges stands over the case that is open so far, or what is lifted off it beyond the usual. */
function raised(state: StateOut, open: number): number {
  const { hinge, box_mm } = state.view.case;
  if (!hinge?.pins.length) return Math.max(0, lifted(state, open) - lifted(state, USUAL_OPEN));
  const long = hinge.axis === 0 ? box_mm[1] : box_mm[0];
  return long * Math.sin(Math.min(TURNED * open, Math.PI / 2));
}

/** Room for two cases, whichever is larger. */
function larger(a: StateOut, b: StateOut): [number, number, number, number] {
  const [p, q] = [bowed(a), bowed(b)];
  return [Math.max(p[0], q[0]), Math.max(p[1], q[1]), Math.max(p[2], q[2]), Math.max(reach(a), reach(b))];
}

/** How far parts come out level when the case is wide open, so that they stay in sight. */
function reach(state: StateOut): number {
  const ways = state.view.case.parts.flatMap((p) => p.put_on ?? []);
  return Math.max(
    0,
    ...ways.map((w) => {
      const [x, y] = stoodWay(state, w.along);
      return Math.max(Math.abs(x), Math.abs(y)) * w.travel_mm;
    }),
  );
}

function Camera({
  look,
  size,
  low,
  rise,
  open,
  level,
  frame,
  aside,
}: {
  look: Look;
  size: [number, number, number];
  /** How much of the height is under the case. */
  low: number;
  /** How far a lid on hinges or a lifted part stands up as it is. */
  rise: number;
  open: number;
  level: number;
  /** What is fitted into the picture: width, depth, height, how far parts come out. */
  frame: [number, number, number, number];
  aside: number;
}) {
  const get = useThree((s) => s.get);
  const px = useThree((s) => s.size);
  const controls = useRef<OrbitControls>(null);
  const [w, d, h] = size;
  const [fw, fd, fh, out] = frame;
  useEffect(() => {
    const { camera, gl, invalidate } = get();
    const c = new OrbitControls(camera, gl.domElement);
    c.addEventListener("change", () => {
      invalidate();
    });
    controls.current = c;
    return () => {
      c.dispose();
    };
  }, [get]);
  useEffect(() => {
    const from: Record<Look, [number, number, number]> = {
      corner: [0.62, -1, 0.72],
      front: [0, -1, 0.0001],
      above: [0, -0.0001, 1],
      back: [-0.55, 1, 0.7],
    };
    const { camera, invalidate } = get();
    if (!(camera instanceof THREE.OrthographicCamera)) return;
    const centre = new THREE.Vector3(w / 2, d / 2, h / 2 - low + 14 - 0.12 * level);
    const [x, y, z] = from[look];
    camera.position.set(centre.x + x * 600, centre.y + y * 600, centre.z + z * 600);
    controls.current?.target.copy(centre);
    controls.current?.update();
    invalidate();
  }, [look, w, d, h, low, get, level]);
  // how near it is, and where in the picture: a lid that is turned up pushes the case down and away
  useEffect(() => {
    const { camera, invalidate } = get();
    if (!(camera instanceof THREE.OrthographicCamera)) return;
    // a narrow picture has no room to step aside
    const off = px.width - aside > 420 ? aside : 0;
    camera.zoom = Math.min(
      (px.width - off) / (Math.hypot(fw, fd) * 1.02 + 0.5 * out),
      (px.height - 2 * BAR_PX) / (Math.hypot(fw, fd) * 0.52 + fh + 8 + 0.35 * out + 0.8 * rise),
    );
    const down = -0.34 * rise * camera.zoom;
    if (off || down) camera.setViewOffset(px.width, px.height, off / 2, down, px.width, px.height);
    else camera.clearViewOffset();
    camera.updateProjectionMatrix();
    invalidate();
  }, [look, fw, fd, fh, out, rise, get, px.width, px.height, aside]);
  useEffect(() => {
    get().invalidate();
  }, [open, get]);
  return null;
}

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

function CaseModel({ state, open, cut, parts, chosen, onReady }: Props & { onReady: (r: boolean) => void }) {
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

type Ink = ReturnType<typeof useInk>;

function Convex({ corners }: { corners: readonly (readonly number[])[] }) {
  const shape = useMemo(
    () => new ConvexGeometry(corners.map((c) => new THREE.Vector3(c[0], c[1], c[2]))),
    [corners],
  );
  return <primitive object={shape} attach="geometry" />;
}

/** The components as plain bodies, so that one sees what the shell is built round. */
function Contents({
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

/** What the remedy under the hand would move: things in their new places, and the walls. */
function Ghosts({ state, ink }: { state: StateOut; ink: Ink }) {
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

/** The cut faces, as the core cuts them. */
function Section({ state, cut, ink }: { state: StateOut; cut: Cut; ink: Ink }) {
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
