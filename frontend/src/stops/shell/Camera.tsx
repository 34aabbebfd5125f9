import { useThree } from "@react-three/fiber";
import { useEffect, useRef } from "react";
import * as THREE from "three";
import { OrbitControls } from "three/addons/controls/OrbitControls.js";

const BAR_PX = 48; // the rows over and under the picture, which nothing covers
export type Look = "corner" | "front" | "above" | "back";

/** Who looks at the case: from where, and how near, so that it fills the picture. */
export function Camera({
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
