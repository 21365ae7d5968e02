'use client';
import { useEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import styled from 'styled-components';
import type * as ThreeModule from 'three';
import { messageOf } from '@/core/problem';
import { balloonOf } from '@/core/around/balloon';
import type { AroundView } from '@/core/around/orbits';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { useThemeVersion } from '@/ui/chart/useThemeVersion';
import { Note, Quiet } from '@/ui/sheets';
import { rampOf } from './ramp';

interface BalloonViewProps {
  readonly view: AroundView;
  /** Place on the grid. */
  readonly at: number;
}

type Three = typeof ThreeModule;

const spanDb = 30;
const turnDeg = 10;
const heightPx = 240;
const steps = 64;

/** Levels over the sphere at one frequency as a body that can be turned. */
export function BalloonView({ view, at }: BalloonViewProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useThemeVersion();
  const [turn, setTurn] = useState({ yawDeg: -52, pitchDeg: 20 });
  const [three, setThree] = useState<Three | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [grip, setGrip] = useState<{ readonly x: number; readonly y: number } | null>(null);
  const balloon = useMemo(() => balloonOf(view, at, spanDb), [view, at]);
  useEffect(() => {
    // It is a large package; only this view needs it.
    import('three').then(setThree).catch((error: unknown) => setTrouble(messageOf(error)));
  }, []);
  useEffect(() => {
    if (!three || !canvas.current) return;
    try {
      return drawn(three, canvas.current, balloon, turn);
    } catch (error) {
      // Without WebGL the maps tell the same.
      const why = messageOf(error);
      const timer = setTimeout(() => setTrouble(why), 0);
      return () => clearTimeout(timer);
    }
  }, [three, balloon, turn, theme]);
  const turned = (yaw: number, pitch: number) =>
    setTurn(({ yawDeg, pitchDeg }) => ({
      yawDeg: ((yawDeg + yaw + 540) % 360) - 180,
      pitchDeg: Math.min(90, Math.max(-90, pitchDeg + pitch)),
    }));
  const onKeyDown = (event: KeyboardEvent) => {
    const by = {
      ArrowLeft: [-turnDeg, 0],
      ArrowRight: [turnDeg, 0],
      ArrowUp: [0, turnDeg],
      ArrowDown: [0, -turnDeg],
    }[event.key];
    if (!by) return;
    event.preventDefault();
    event.stopPropagation();
    turned(by[0], by[1]);
  };
  const onPointerMove = ({ clientX, clientY }: PointerEvent) => {
    if (!grip) return;
    turned((clientX - grip.x) / 2, (clientY - grip.y) / 2);
    setGrip({ x: clientX, y: clientY });
  };
  const hz = formatQuantity(view.frequencyHz[at], 'hertz');
  return (
    <Frame>
      <strong>Balloon at {hz}</strong>
      <canvas
        ref={canvas}
        height={heightPx}
        role="img"
        tabIndex={0}
        aria-label={`Balloon at ${hz}, turned ${Math.round(turn.yawDeg)}°, tilted ${Math.round(turn.pitchDeg)}°; directivity index ${formatFixed(view.sphereIndex[at], 1)} dB. Arrow keys turn it.`}
        onKeyDown={onKeyDown}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          setGrip({ x: event.clientX, y: event.clientY });
        }}
        onPointerMove={onPointerMove}
        onPointerUp={() => setGrip(null)}
      />
      {trouble !== null && (
        <Note $kind="doubt">
          The balloon can’t be drawn here: {trouble} The maps and the polar plot tell the same.
        </Note>
      )}
      <Quiet>
        Drag, or turn it with arrow keys. The loudest direction reaches the rim, {spanDb} dB less
        the middle; the dark rod is the design axis. Between the two orbits it is estimated.
        Directivity index over the sphere: {formatFixed(view.sphereIndex[at], 1)} dB.
      </Quiet>
    </Frame>
  );
}

/** Draws one picture; returns how to clear up. */
function drawn(
  three: Three,
  canvas: HTMLCanvasElement,
  { corners, levelDb, rows, columns, topDb }: ReturnType<typeof balloonOf>,
  { yawDeg, pitchDeg }: { readonly yawDeg: number; readonly pitchDeg: number },
): () => void {
  const style = getComputedStyle(document.documentElement);
  const colour = (name: string) => style.getPropertyValue(name).trim();
  const ramp = rampOf(['--map-low', '--map-middle', '--map-high'].map(colour), steps);
  const colours = new Float32Array(corners.length);
  levelDb.forEach((db, k) => {
    const share = Math.min(1, Math.max(0, 1 - (topDb - db) / spanDb));
    const step = 3 * Math.round(share * (steps - 1));
    const own = new three.Color().setRGB(
      ramp[step] / 255,
      ramp[step + 1] / 255,
      ramp[step + 2] / 255,
      three.SRGBColorSpace,
    );
    colours.set([own.r, own.g, own.b], 3 * k);
  });
  const index: number[] = [];
  for (let row = 0; row + 1 < rows; row++)
    for (let column = 0; column + 1 < columns; column++) {
      const a = row * columns + column;
      index.push(a, a + columns, a + 1, a + 1, a + columns, a + columns + 1);
    }
  const geometry = new three.BufferGeometry();
  geometry.setAttribute('position', new three.BufferAttribute(corners, 3));
  geometry.setAttribute('color', new three.BufferAttribute(colours, 3));
  geometry.setIndex(index);
  geometry.computeVertexNormals();
  const material = new three.MeshLambertMaterial({ vertexColors: true, side: three.DoubleSide });
  const rod = new three.BufferGeometry().setFromPoints([
    new three.Vector3(0, 0, 0),
    new three.Vector3(0, 0, 1.7),
  ]);
  const ink = new three.LineBasicMaterial({ color: colour('--ink') });
  const body = new three.Group();
  body.add(new three.Mesh(geometry, material), new three.Line(rod, ink));
  body.rotation.set((pitchDeg * Math.PI) / 180, (yawDeg * Math.PI) / 180, 0);
  const scene = new three.Scene();
  const lamp = new three.DirectionalLight(0xffffff, 1.6);
  lamp.position.set(1, 2, 3);
  scene.add(body, lamp, new three.AmbientLight(0xffffff, 1.6));
  const widthPx = canvas.clientWidth;
  const half = 1.35;
  const aspect = widthPx / heightPx;
  const camera = new three.OrthographicCamera(-half * aspect, half * aspect, half, -half, 0.1, 10);
  camera.position.z = 5;
  const renderer = new three.WebGLRenderer({ canvas, antialias: true, alpha: true });
  renderer.setPixelRatio(window.devicePixelRatio);
  renderer.setSize(widthPx, heightPx, false);
  renderer.render(scene, camera);
  return () => {
    for (const one of [geometry, material, rod, ink, renderer]) one.dispose();
  };
}

const Frame = styled.div`
  display: grid;
  gap: 0.5rem;
  canvas {
    width: 100%;
    height: ${heightPx}px;
    cursor: grab;
    touch-action: none;
    background: ${({ theme }) => theme.colour.sheet};
    border: 1px solid ${({ theme }) => theme.colour.rule};
  }
`;
