/** Brass diver's helmet: copper dome with a window cut out, riveted collar, barred side lights, an air hose. Millimetres, head frame. */
import {
  type BufferAttribute,
  BufferGeometry,
  CircleGeometry,
  CylinderGeometry,
  LatheGeometry,
  SphereGeometry,
  TorusGeometry,
  Vector2,
  Vector3,
} from 'three';
import { type Finish, type Lump, lumpsToGlb, put, tube, V } from '../kit';

const COPPER: Finish = { name: 'Beaten copper', color: 0xb8683a, metal: 0.95, rough: 0.34, wear: 0.9, doubleSided: true };
const BRASS: Finish = { name: 'Worn brass', color: 0xc3913a, metal: 0.95, rough: 0.3, wear: 0.7, doubleSided: true };
const DARK: Finish = { name: 'Dark brass', color: 0x8a5f22, metal: 0.95, rough: 0.42 };
const GLASS: Finish = { name: 'Window glass', color: 0x9cc4bf, metal: 0, rough: 0.08, alpha: 0.22, doubleSided: true };
const RUBBER: Finish = { name: 'Hose', color: 0x2d3236, metal: 0.1, rough: 0.7 };

/** Middle of the dome. */
const C = new Vector3(0, 16, 6);
const R = 138;

interface Window {
  yaw: number;
  pitch: number;
  r: number;
}
const WINDOWS: readonly Window[] = [
  { yaw: 0, pitch: 0.02, r: 50 },
  { yaw: -1.45, pitch: 0, r: 31 },
  { yaw: 1.45, pitch: 0, r: 31 },
  { yaw: 0, pitch: -0.86, r: 25 },
];
const axisOf = (w: Window) =>
  new Vector3(0, 0, 1).applyAxisAngle(new Vector3(1, 0, 0), w.pitch).applyAxisAngle(new Vector3(0, 1, 0), w.yaw);

/** The dome without the triangles that lie behind a window. */
function dome(): BufferGeometry {
  const g = new SphereGeometry(R, 64, 42, 0, Math.PI * 2, 0, 2.28);
  const p = g.getAttribute('position') as BufferAttribute;
  const index = (g.getIndex() as BufferAttribute).array;
  const open = WINDOWS.map((w) => ({ axis: axisOf(w), cos: Math.cos(Math.asin((w.r + 3) / R)) }));
  const kept: number[] = [];
  for (let t = 0; t < index.length; t += 3) {
    const m = [0, 1, 2].reduce((s, k) => s.add(new Vector3().fromBufferAttribute(p, index[t + k])), new Vector3()).normalize();
    if (!open.some((o) => m.dot(o.axis) > o.cos)) kept.push(index[t], index[t + 1], index[t + 2]);
  }
  const out = new BufferGeometry();
  for (const key of ['position', 'normal', 'uv']) out.setAttribute(key, g.getAttribute(key));
  out.setIndex(kept);
  // three repeats: the beaten pattern is smaller than the dome
  const uv = out.getAttribute('uv') as BufferAttribute;
  for (let i = 0; i < uv.count; i++) uv.setXY(i, uv.getX(i) * 4, uv.getY(i) * 3);
  return out.translate(C.x, C.y, C.z);
}

function windowLumps({ yaw, pitch, r }: Window): Lump[] {
  const out: Lump[] = [];
  const depth = Math.sqrt(R * R - r * r);
  const add = (geometry: BufferGeometry, finish: Finish) =>
    out.push({ geometry: put(geometry.translate(0, 0, depth), [C.x, C.y, C.z], [pitch, yaw, 0]), finish });
  add(put(new CylinderGeometry(r + 6, r + 13, 24, 40, 1, true), [0, 0, -2], [Math.PI / 2, 0, 0]), BRASS);
  add(new TorusGeometry(r + 3, 6, 8, 32).translate(0, 0, 10), BRASS);
  add(new CircleGeometry(r, 40).translate(0, 0, 8), GLASS);
  for (let i = 0; i < 10; i++) {
    const a = (i / 10) * Math.PI * 2;
    add(new SphereGeometry(3.2, 6, 5).translate(Math.cos(a) * (r + 4), Math.sin(a) * (r + 4), 16), DARK);
  }
  if (r < 40) for (let i = -1; i <= 1; i++) add(new CylinderGeometry(2, 2, r * 1.8, 6).translate(i * r * 0.5, 0, 14), BRASS);
  return out;
}

function collar(): Lump[] {
  const profile = [
    [98, -84],
    [108, -94],
    [110, -106],
    [146, -126],
    [192, -158],
    [198, -172],
    [190, -177],
  ].map(([x, y]) => new Vector2(x, y));
  const out: Lump[] = [
    { geometry: put(new LatheGeometry(profile, 48), [0, 0, C.z - 4], [0, 0, 0], [1, 1, 0.84]), finish: BRASS },
    { geometry: put(new TorusGeometry(109, 8, 10, 48), [0, -90, C.z - 4], [Math.PI / 2, 0, 0], [1, 1, 0.9]), finish: DARK },
  ];
  for (let i = 0; i < 18; i++) {
    const a = (i / 18) * Math.PI * 2;
    out.push({
      geometry: new CylinderGeometry(6, 6, 8, 6).translate(Math.sin(a) * 176, -148, C.z - 4 + Math.cos(a) * 176 * 0.84),
      finish: DARK,
    });
  }
  return out;
}

export const helmetLumps = (): Lump[] => [
  { geometry: dome(), finish: COPPER },
  ...WINDOWS.flatMap(windowLumps),
  ...collar(),
  { geometry: new CylinderGeometry(14, 18, 26, 20).translate(0, C.y + R + 6, C.z), finish: BRASS },
  { geometry: put(new TorusGeometry(12, 4, 8, 20), [0, C.y + R + 26, C.z]), finish: BRASS },
  {
    geometry: tube([V(98, 76, -62), V(146, 104, -104), V(172, 54, -116), V(168, -96, -104), V(186, -176, -78)], 9, 30, 10),
    finish: RUBBER,
  },
];

export const helmetGlb = () => lumpsToGlb("Brass diver's helmet", helmetLumps());
