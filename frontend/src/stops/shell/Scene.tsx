import { Canvas } from "@react-three/fiber";
import { type ReactNode, Suspense, useDeferredValue, useMemo, useState } from "react";

import type { StateOut } from "../../api/schema";
import { Camera, type Look } from "./Camera";
import { CaseModel, type Model } from "./CaseModel";
import { bowed, larger, low, raised, reach } from "./room";
import { stance } from "./stance";

interface Props extends Model {
  /** The same design with what is typed or pointed at: this is drawn, where `state` stood. */
  there?: StateOut;
  look: Look;
  /** Drawn as large as these would be: two cases side by side at one scale. */
  beside?: StateOut;
  /** How much of the picture's right side something else lies on, px: the case is drawn beside it. */
  aside?: number;
}

/** The case in 3D. */
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
