'use client';
/** The handle by which a part is moved: a paper disc with three stubs, worded side, up, fore; the same in Mirror and plates. */
import { useRef } from 'react';
import { type Camera, Matrix4, Quaternion, Vector3 } from 'three';
import { turnAbout } from '@/core/math';
import { changePart, type Offset, type Part } from '@/core/piece';
import { onEscape } from '../kit';
import { usePiece } from '../piece/context';
import { useFit } from './state';

const AXES = [
  { name: 'side', unit: new Vector3(1, 0, 0), dash: undefined },
  { name: 'up', unit: new Vector3(0, 1, 0), dash: '7 3' },
  { name: 'fore', unit: new Vector3(0, 0, 1), dash: '7 2.5 1.5 2.5' },
] as const;
const STUB_PX = 46;

interface Props {
  part: Part;
  /** World from the frame the part hangs in. */
  frame: readonly number[];
  camera: Camera;
  width: number;
  height: number;
  /** Colours: over a picture the lines need a dark edge. */
  onPicture: boolean;
  /** In a plate the disc moves in the plate's plane only. */
  plate?: 'front' | 'side';
}

type Grab = { axis: 0 | 1 | 2 | null; from: [number, number]; offset: Offset; pointer: number; end: () => void };

export function Handles({ part, frame, camera, width, height, onPicture, plate }: Props) {
  const commit = usePiece((s) => s.commit);
  const hand = useFit((s) => s.hand);
  const linked = useFit((s) => s.linked);
  const dragSoon = useFit((s) => s.dragSoon);
  const drop = useFit((s) => s.drop);
  const draft = useFit((s) => s.draft);
  const grab = useRef<Grab | null>(null);
  if (width === 0) return null;
  const offset = draft?.id === part.id ? draft.offset : part.offset;
  const frameMatrix = new Matrix4().fromArray(frame as number[]);
  const origin = new Vector3(...offset.positionM).applyMatrix4(frameMatrix);
  const rotation = new Quaternion();
  const scale = new Vector3();
  frameMatrix.decompose(new Vector3(), rotation, scale);
  const project = (v: Vector3): [number, number] => {
    const p = v.clone().project(camera);
    return [((p.x + 1) / 2) * width, ((1 - p.y) / 2) * height];
  };
  const [cx, cy] = project(origin);
  if (!Number.isFinite(cx) || cx < -40 || cy < -40 || cx > width + 40 || cy > height + 40) return null;
  const stubs = AXES.map((a) => {
    const [x, y] = project(origin.clone().addScaledVector(a.unit.clone().multiply(scale).applyQuaternion(rotation), 0.001));
    const perM: [number, number] = [(x - cx) * 1000, (y - cy) * 1000];
    return { ...a, perM, length: Math.hypot(...perM) };
  });
  const longest = Math.max(...stubs.map((s) => s.length), 1e-9);
  const shownStub = (s: (typeof stubs)[number]) => {
    const k = STUB_PX / longest;
    return [s.perM[0] * k, s.perM[1] * k] as const;
  };

  const drag = (g: Grab, dx: number, dy: number, at: [number, number]): Offset => {
    const o = g.offset;
    if (hand === 'size') {
      const along = g.axis === null ? dx - dy : (dx * stubs[g.axis].perM[0] + dy * stubs[g.axis].perM[1]) / (stubs[g.axis].length || 1);
      const f = Math.exp(along / 120);
      return {
        ...o,
        size: o.size.map((k, i) =>
          linked || g.axis === null || g.axis === i ? Math.min(1e6, Math.max(1e-6, k * f)) : k,
        ) as Offset['size'],
      };
    }
    if (hand === 'turn') {
      const axis = g.axis ?? 1;
      const s = stubs[axis];
      const facing = s.length / longest < 0.35;
      const angleAt = (x: number, y: number) => Math.atan2(-(y - cy), x - cx);
      // an axis that points at the eye turns round the disc; others turn by the pull across them
      // a mirrored picture turns the other way
      const round = camera.projectionMatrix.elements[0] < 0 ? -1 : 1;
      const by = facing ? round * (angleAt(...at) - angleAt(...g.from)) : (dx * -s.perM[1] + dy * s.perM[0]) / (s.length || 1) / 80;
      return { ...o, turnRad: turnAbout(o.turnRad, axis, by) };
    }
    const [x, y, z] = o.positionM;
    if (g.axis !== null) {
      const s = stubs[g.axis];
      if (s.length / longest < 0.2) return o;
      const m = (dx * s.perM[0] + dy * s.perM[1]) / (s.length * s.length);
      const p: [number, number, number] = [x, y, z];
      p[g.axis] += m;
      return { ...o, positionM: p };
    }
    // the disc: in the plane of the picture, through the origin
    const depth = origin.clone().project(camera).z;
    const world = (px: number, py: number) => new Vector3((px / width) * 2 - 1, 1 - (py / height) * 2, depth).unproject(camera);
    const by = world(cx + dx, cy + dy)
      .sub(world(cx, cy))
      .applyQuaternion(rotation.clone().invert())
      .divide(scale);
    return { ...o, positionM: [x + by.x, y + by.y, z + by.z] };
  };

  const local = (e: React.PointerEvent): [number, number] => {
    const r = (e.currentTarget as SVGElement).ownerSVGElement?.getBoundingClientRect();
    return [e.clientX - (r?.left ?? 0), e.clientY - (r?.top ?? 0)];
  };
  const handlers = (axis: Grab['axis']) => ({
    onPointerDown(e: React.PointerEvent) {
      if (part.locked) return;
      e.preventDefault();
      e.stopPropagation();
      e.currentTarget.setPointerCapture(e.pointerId);
      const end = onEscape(() => {
        grab.current = null;
        drop();
      });
      grab.current = { axis, from: local(e), offset: part.offset, pointer: e.pointerId, end };
    },
    onPointerMove(e: React.PointerEvent) {
      const g = grab.current;
      if (!g || g.pointer !== e.pointerId) return;
      const at = local(e);
      dragSoon({ id: part.id, offset: tidy(drag(g, at[0] - g.from[0], at[1] - g.from[1], at)) });
    },
    onPointerUp(e: React.PointerEvent) {
      const g = grab.current;
      grab.current = null;
      if (!g || g.pointer !== e.pointerId) return;
      g.end();
      const d = drop();
      if (d) commit(changePart(d.id, { offset: d.offset }));
    },
    onPointerCancel() {
      grab.current?.end();
      grab.current = null;
      drop();
    },
  });
  const edge = onPicture ? 'rgb(12 27 35 / .6)' : 'var(--water)';
  const light = ['#f0a6d8', '#bcc6ff', '#dbe57e'];
  return (
    <g data-handles={plate ?? 'mirror'} style={{ pointerEvents: 'auto', cursor: part.locked ? 'not-allowed' : 'grab' }}>
      {stubs.map((s, i) => {
        const [dx, dy] = shownStub(s);
        if (Math.hypot(dx, dy) < 9) return null;
        const colour = onPicture ? light[i] : `var(--axis-${s.name})`;
        return (
          <g key={s.name} {...handlers(i as 0 | 1 | 2)} data-stub={s.name}>
            <path d={`M${cx} ${cy}l${dx} ${dy}`} stroke="transparent" strokeWidth={16} />
            <path d={`M${cx} ${cy}l${dx} ${dy}`} stroke={edge} strokeWidth={5} fill="none" />
            <path d={`M${cx} ${cy}l${dx} ${dy}`} stroke={colour} strokeWidth={2.4} strokeDasharray={s.dash} fill="none" />
            {hand === 'place' && <circle cx={cx + dx} cy={cy + dy} r={3.4} fill={colour} stroke={edge} />}
            {hand === 'turn' && <circle cx={cx + dx} cy={cy + dy} r={5} fill="none" stroke={colour} strokeWidth={2} />}
            {hand === 'size' && <rect x={cx + dx - 4} y={cy + dy - 4} width={8} height={8} fill={colour} stroke={edge} />}
            {Math.hypot(dx, dy) > 0.55 * STUB_PX && (
              <text
                x={cx + dx * 1.22}
                y={cy + dy * 1.22 + 4}
                textAnchor={Math.abs(dx) < 12 ? 'middle' : dx > 0 ? 'start' : 'end'}
                style={{ font: '600 11px var(--font-sans)', paintOrder: 'stroke', fill: colour }}
                stroke={edge}
                strokeWidth={4}
                strokeLinejoin="round"
              >
                {s.name}
              </text>
            )}
          </g>
        );
      })}
      <circle cx={cx} cy={cy} r={7} fill="#fcfbf6" stroke="#805a12" strokeWidth={2.6} data-stub="disc" {...handlers(null)} />
    </g>
  );
}

/** A micrometre and a thousandth of a degree are plenty; longer tails only fill the file. */
function tidy(o: Offset): Offset {
  const r = (x: number, d: number) => Math.round(x * d) / d;
  return {
    positionM: o.positionM.map((x) => r(x, 1e6)) as Offset['positionM'],
    turnRad: o.turnRad.map((x) => r(x, 1e5)) as Offset['turnRad'],
    size: o.size.map((x) => Number(x.toPrecision(6))) as Offset['size'],
  };
}
