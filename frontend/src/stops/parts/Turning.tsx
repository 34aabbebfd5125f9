import { Canvas, useThree } from "@react-three/fiber";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import * as THREE from "three";
import { OrbitControls } from "three/addons/controls/OrbitControls.js";
import { ConvexGeometry } from "three/addons/geometries/ConvexGeometry.js";

import type { Component } from "../../api/schema";
import { extent } from "./extent";

const COLOUR: Record<string, string> = {
  board: "--verdigris",
  body: "--slate",
  connector: "--soft",
  pins: "--saffron",
};

function token(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(name).trim() || "#888888";
}

/** A component in 3D: dragged about, or turned with the arrow keys. */
export default function Turning({ component: c }: { component: Component }) {
  const [turn, setTurn] = useState(0);
  return (
    <div
      role="img"
      aria-label={`${c.label} in 3D; arrow keys turn it`}
      tabIndex={0}
      className="h-44 w-full cursor-grab rounded-[3px] border border-rule bg-paper/60"
      onKeyDown={(e) => {
        if (e.key !== "ArrowLeft" && e.key !== "ArrowRight") return;
        e.preventDefault();
        e.stopPropagation();
        setTurn((t) => t + (e.key === "ArrowLeft" ? -1 : 1));
      }}
    >
      <Canvas frameloop="demand" orthographic camera={{ near: -2000, far: 4000, up: [0, 0, 1] }}>
        <ambientLight intensity={2} />
        <directionalLight position={[200, -300, 500]} intensity={1.6} />
        {c.shape ? <Mesh digest={c.shape} /> : <Boxes component={c} />}
        <View key={c.key} component={c} turn={turn} />
      </Canvas>
    </div>
  );
}

function View({ component: c, turn }: { component: Component; turn: number }) {
  const get = useThree((s) => s.get);
  const size = useThree((s) => s.size);
  useEffect(() => {
    const { camera, gl, invalidate } = get();
    const { lo, hi } = extent(c, false);
    const centre = new THREE.Vector3(...lo.map((v, i) => (v + hi[i]!) / 2));
    const [flat, tall] = [Math.hypot(hi[0] - lo[0], hi[1] - lo[1]), hi[2] - lo[2]];
    const controls = new OrbitControls(camera, gl.domElement);
    controls.enablePan = false;
    controls.addEventListener("change", () => {
      invalidate();
    });
    const a = -1.0 + turn * 0.35;
    camera.position.set(centre.x + 600 * Math.cos(a), centre.y + 600 * Math.sin(a), centre.z + 460);
    camera.zoom = Math.min(size.width / flat, size.height / (0.64 * flat + 0.83 * tall)) * 0.96;
    camera.updateProjectionMatrix();
    controls.target.copy(centre);
    controls.update();
    invalidate();
    return () => {
      controls.dispose();
    };
  }, [c, turn, get, size.width, size.height]);
  return null;
}

function Boxes({ component: c }: { component: Component }) {
  const parts = useMemo(
    () =>
      c.solids
        .filter((s) => s.role !== "plug" && s.role !== "keepout")
        .map((s) => {
          const size = s.hi.map((v, i) => v - s.lo[i]!) as [number, number, number];
          if (s.corners?.length) {
            const shape = new ConvexGeometry(s.corners.map((p) => new THREE.Vector3(...p)));
            return { name: s.name, role: s.role, shape, edges: new THREE.EdgesGeometry(shape, 30) };
          }
          const shape = s.round
            ? new THREE.CylinderGeometry(size[0] / 2, size[0] / 2, size[2], 36).rotateX(Math.PI / 2)
            : new THREE.BoxGeometry(...size);
          shape.translate(...(s.lo.map((v, i) => v + size[i]! / 2) as [number, number, number]));
          return { name: s.name, role: s.role, shape, edges: new THREE.EdgesGeometry(shape, 30) };
        }),
    [c],
  );
  const ink = token("--ink");
  return (
    <>
      {parts.map((p) => (
        <group key={p.name}>
          <mesh geometry={p.shape}>
            <meshLambertMaterial
              color={token(COLOUR[p.role] ?? "--slate")}
              polygonOffset
              polygonOffsetFactor={1}
              polygonOffsetUnits={1}
            />
          </mesh>
          <lineSegments geometry={p.edges}>
            <lineBasicMaterial color={ink} />
          </lineSegments>
        </group>
      ))}
    </>
  );
}

function Mesh({ digest }: { digest: string }) {
  const mesh = useQuery({
    queryKey: ["shape", digest],
    staleTime: Infinity,
    queryFn: async () => {
      const r = await fetch(`/api/shapes/${digest}`);
      if (!r.ok) throw new Error("the mesh is not kept here");
      const g = new THREE.BufferGeometry();
      g.setAttribute("position", new THREE.BufferAttribute(new Float32Array(await r.arrayBuffer()), 3));
      g.computeVertexNormals();
      return g;
    },
  });
  const invalidate = useThree((s) => s.invalidate);
  useEffect(() => {
    invalidate();
  }, [mesh.data, invalidate]);
  if (!mesh.data) return null;
  return (
    <mesh geometry={mesh.data}>
      <meshLambertMaterial color={token("--slate")} side={THREE.DoubleSide} flatShading />
    </mesh>
  );
}
