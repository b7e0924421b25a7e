/** Wearables from formulas, and things that are none: for tests alone. Millimetres, side, up and fore as they are worn, about their own middle. */
import {
  BoxGeometry,
  BufferAttribute,
  BufferGeometry,
  CapsuleGeometry,
  CatmullRomCurve3,
  ConeGeometry,
  CylinderGeometry,
  LatheGeometry,
  Matrix4,
  PlaneGeometry,
  SphereGeometry,
  TorusGeometry,
  TorusKnotGeometry,
  TubeGeometry,
  Vector2,
  Vector3,
} from 'three';
import type { Kind } from '../../words/kinds';
import type { ThingShape } from './thing';

type Made = BufferGeometry | { glass: BufferGeometry };
const at = (g: BufferGeometry, x = 0, y = 0, z = 0) => g.translate(x, y, z);
const tube = (points: [number, number, number][], r: number) =>
  new TubeGeometry(
    new CatmullRomCurve3(
      points.map((p) => new Vector3(...p)),
      false,
      'centripetal',
    ),
    40,
    r,
    8,
  );
const lathe = (points: [number, number][], n = 48) =>
  new LatheGeometry(
    points.map(([x, y]) => new Vector2(x, y)),
    n,
  );
const both = (make: (s: 1 | -1) => Made[]): Made[] => [...make(1), ...make(-1)];

/** A frame of four bars round a lens; its middle before the eye. */
function squareEye(s: 1 | -1, w: number, h: number, x: number): Made[] {
  const bar = (bw: number, bh: number, dx: number, dy: number) => at(new BoxGeometry(bw, bh, 3), s * x + dx, dy, 0);
  return [
    bar(w, 3, 0, h / 2),
    bar(w, 3, 0, -h / 2),
    bar(3, h, w / 2, 0),
    bar(3, h, -w / 2, 0),
    { glass: at(new PlaneGeometry(w, h), s * x) },
  ];
}

export const WORN: [Kind, string, () => Made[]][] = [
  [
    'eyewear',
    'square frames with straight temples',
    () => [
      ...both((s) => [
        ...squareEye(s, 48, 34, 33),
        at(new BoxGeometry(3, 5, 132), s * 70, 9, -67),
        at(new BoxGeometry(14, 4, 3), s * 63, 9, -1),
      ]),
      at(new BoxGeometry(18, 4, 3), 0, 6, 0),
    ],
  ],
  [
    'eyewear',
    'wire rims with hooks',
    () => [
      ...both((s) => [
        at(new TorusGeometry(21, 0.8, 8, 40), s * 32, 0, 0),
        tube(
          [
            [s * 53, 4, 0],
            [s * 68, 6, -12],
            [s * 70, 6, -60],
            [s * 71, 6, -98],
            [s * 71, -6, -112],
            [s * 70, -28, -120],
          ],
          0.9,
        ),
        at(new SphereGeometry(2.5, 10, 8), s * 9, -7, -7),
      ]),
      tube(
        [
          [-11, 4, 0],
          [0, 9, 3],
          [11, 4, 0],
        ],
        1,
      ),
    ],
  ],
  [
    'eyewear',
    'tall round frames, thick',
    () => [
      ...both((s) => [
        at(new TorusGeometry(27, 3, 10, 40), s * 36, 0, 0),
        tube(
          [
            [s * 63, 5, 0],
            [s * 71, 6, -14],
            [s * 72, 5, -100],
            [s * 72, -20, -122],
            [s * 70, -36, -126],
          ],
          2.4,
        ),
      ]),
      at(new BoxGeometry(16, 5, 5), 0, 8, 0),
    ],
  ],
  [
    'headwear',
    'hat with a flat brim',
    () => [
      lathe([
        [150, 0],
        [79, 1],
        [77, 12],
        [74, 70],
        [66, 104],
        [40, 118],
        [0.1, 120],
      ]).scale(1, 1, 1.22),
      at(new SphereGeometry(9, 12, 8), 0, 24, 96),
    ],
  ],
  [
    'headwear',
    'cap with a peak',
    () => {
      const peak = new CylinderGeometry(84, 84, 3, 40, 1, false, -0.9, 1.8).scale(0.85, 1, 0.9);
      return [
        lathe([
          [78, 0],
          [80, 30],
          [72, 70],
          [48, 104],
          [0.1, 118],
        ]).scale(1, 1, 1.22),
        at(peak, 0, 2, 97),
      ];
    },
  ],
  [
    'headwear',
    'band with a plume in front',
    () => [at(new TorusGeometry(82, 5, 10, 48).rotateX(Math.PI / 2).scale(1, 1.6, 1.2)), at(new ConeGeometry(16, 90, 16), 0, 48, 98)],
  ],
  [
    'earring',
    'hoop on a hook',
    () => [
      tube(
        [
          [0, -4, 3],
          [0, 4, 1],
          [0, 7, -4],
          [0, 3, -8],
          [0, -6, -9],
        ],
        0.7,
      ),
      at(new TorusGeometry(14, 1.2, 8, 32), 0, -19, 2),
    ],
  ],
  [
    'earring',
    'bar with a stone',
    () => [
      tube(
        [
          [0, -3, 2],
          [0, 3, 0],
          [0, 5, -3],
          [0, 1, -7],
          [0, -7, -8],
        ],
        0.6,
      ),
      at(new BoxGeometry(3, 26, 2), 0, -16, 2),
      at(new SphereGeometry(5, 14, 10).scale(1, 1, 0.6), 0, -33, 2),
    ],
  ],
  [
    'neckwear',
    'collar like a cone',
    () => [
      lathe([
        [64, 24],
        [70, 12],
        [92, 0],
        [128, -10],
      ])
        .scale(1, 1, 0.95)
        .translate(0, 0, 0),
      at(new BoxGeometry(26, 22, 6), 0, 2, 96),
    ],
  ],
  [
    'neckwear',
    'ring with a pendant',
    () => [
      at(new TorusGeometry(78, 3, 10, 60).rotateX(Math.PI / 2)),
      at(new CylinderGeometry(14, 14, 4, 24).rotateX(Math.PI / 2), 0, -20, 80),
    ],
  ],
  [
    'mask',
    'shell with eye holes',
    () => {
      const g = new SphereGeometry(1, 60, 60, 0, Math.PI * 2, 0, Math.PI).toNonIndexed();
      const p = g.getAttribute('position');
      const kept: number[] = [];
      for (let t = 0; t < p.count; t += 3) {
        const [x, y, z] = [0, 1, 2].map(
          (k) => [0, 1, 2].reduce((s, v) => s + (k === 0 ? p.getX(t + v) : k === 1 ? p.getY(t + v) : p.getZ(t + v)), 0) / 3,
        ) as number[];
        const hole = Math.hypot((Math.abs(x) * 76 - 31) / 15, (y * 108 - 24) / 10) < 1;
        if (z > 0.25 && !hole)
          for (let v = 0; v < 3; v++)
            kept.push(p.getX(t + v) * 76 * (1 - 0.12 * Math.max(0, -p.getY(t + v))), p.getY(t + v) * 108, p.getZ(t + v) * 78);
      }
      return [new BufferGeometry().setAttribute('position', new BufferAttribute(Float32Array.from(kept), 3))];
    },
  ],
  [
    'fullhead',
    'bucket with a window',
    () => [
      lathe([
        [108, -170],
        [110, -120],
        [122, -40],
        [122, 60],
        [104, 118],
        [60, 142],
        [0.1, 146],
      ]).scale(1, 1, 1.12),
      { glass: at(new PlaneGeometry(96, 44), 0, 18, 139) },
      at(new TorusGeometry(40, 5, 8, 32).scale(1.2, 0.6, 1), 0, 18, 136),
    ],
  ],
  [
    'backpiece',
    'pack with two straps',
    () => [
      at(new BoxGeometry(280, 380, 120), 0, 0, -60),
      at(new BoxGeometry(200, 90, 60), 0, -90, -150),
      ...both((s) => [
        tube(
          [
            [s * 78, 150, 0],
            [s * 78, 185, 45],
            [s * 78, 150, 120],
            [s * 82, 40, 170],
            [s * 90, -90, 120],
            [s * 100, -150, 0],
          ],
          9,
        ),
      ]),
    ],
  ],
  [
    'backpiece',
    'wings on a plate',
    () => [
      at(new BoxGeometry(90, 170, 14)),
      ...both((s) =>
        [0, 1, 2, 3].map((k) =>
          tube(
            [
              [s * 30, 40 - k * 30, -8],
              [s * 190, 190 - k * 60, -70],
              [s * 420, 60 - k * 90, -120 - k * 8],
            ],
            12 - k,
          ),
        ),
      ),
    ],
  ],
];

const leg = (x: number, z: number, h: number, r = 18) => at(new CylinderGeometry(r, r, h, 12), x, h / 2, z);
const chair = () => [
  at(new BoxGeometry(420, 30, 420), 0, 450, 0),
  at(new BoxGeometry(420, 480, 30), 0, 700, -200),
  leg(190, 190, 450),
  leg(-190, 190, 450),
  leg(190, -190, 450),
  leg(-190, -190, 450),
];
const table = () => [
  at(new BoxGeometry(1200, 40, 700), 0, 730, 0),
  leg(550, 300, 730),
  leg(-550, 300, 730),
  leg(550, -300, 730),
  leg(-550, -300, 730),
];
const figure = () => [
  at(new SphereGeometry(110, 24, 16), 0, 1640, 0),
  at(new CapsuleGeometry(150, 420, 8, 20), 0, 1250, 0),
  ...both((s) => [
    at(new CapsuleGeometry(60, 760, 6, 12), s * 90, 460, 0),
    at(new CapsuleGeometry(45, 560, 6, 12).rotateZ(s * 0.3), s * 280, 1180, 0),
    at(new BoxGeometry(90, 70, 240), s * 90, 40, 60),
  ]),
];
const wagon = () => [
  at(new BoxGeometry(600, 200, 1200), 0, 350, 0),
  ...[-1, 1].flatMap((x) => [-1, 1].map((z) => at(new TorusGeometry(180, 25, 8, 24).rotateY(Math.PI / 2), x * 330, 200, z * 420))),
];
const boat = () => [
  new SphereGeometry(1, 32, 16, 0, Math.PI * 2, Math.PI / 2, Math.PI / 2).scale(300, 220, 900),
  at(new CylinderGeometry(12, 12, 900, 10), 0, 400, 0),
];
const knot = () => [new TorusKnotGeometry(200, 60, 120, 12)];
const sword = () => [
  at(new BoxGeometry(40, 800, 8), 0, 500, 0),
  at(new BoxGeometry(180, 20, 20), 0, 90, 0),
  at(new CylinderGeometry(14, 14, 160, 12)),
];
const tree = () => [at(new CylinderGeometry(60, 90, 900, 14), 0, 450, 0), at(new ConeGeometry(420, 1100, 18), 0, 1400, 0)];
const ball = () => [new SphereGeometry(100, 32, 24)];
const crate = () => [new BoxGeometry(300, 300, 300)];
const sheet = () => [new PlaneGeometry(300, 200)];
const arch = () => [...both((s) => [at(new BoxGeometry(80, 900, 80), s * 300, 450, 0)]), at(new BoxGeometry(700, 80, 80), 0, 940, 0)];
const stairs = () => Array.from({ length: 8 }, (_, k) => at(new BoxGeometry(600, 40 * (k + 1), 120), 0, 20 * (k + 1), k * 120));
const lamp = () => [
  at(new CylinderGeometry(110, 120, 20, 24)),
  at(new CylinderGeometry(9, 9, 400, 10), 0, 200, 0),
  at(new ConeGeometry(20, 40, 12), 0, 420, 0),
];

/** What is said to be what it is not. */
export const NOT_WORN: [Kind, string, () => Made[]][] = [
  ['eyewear', 'a chair', chair],
  ['headwear', 'a chair', chair],
  ['mask', 'a chair', chair],
  ['eyewear', 'a table', table],
  ['neckwear', 'a table', table],
  ['headwear', 'a figure', figure],
  ['eyewear', 'a figure', figure],
  ['fullhead', 'a figure', figure],
  ['mask', 'a figure', figure],
  ['eyewear', 'a wagon', wagon],
  ['headwear', 'a wagon', wagon],
  ['eyewear', 'a boat', boat],
  ['neckwear', 'a sword', sword],
  ['eyewear', 'a knot', knot],
  ['headwear', 'a tree', tree],
  ['headwear', 'a ball', ball],
  ['fullhead', 'a crate', crate],
  ['eyewear', 'a sheet', sheet],
  ['eyewear', 'an arch', arch],
  ['mask', 'stairs', stairs],
  ['headwear', 'a lamp', lamp],
  ['earring', 'a sheet', sheet],
  ['earring', 'a chair', chair],
  ['earring', 'a figure', figure],
  ['earring', 'stairs', stairs],
  ['mask', 'a boat', boat],
  ['neckwear', 'a chair', chair],
  ['backpiece', 'a chair', chair],
  ['backpiece', 'a table', table],
  ['backpiece', 'a figure', figure],
  ['backpiece', 'a tree', tree],
  ['backpiece', 'a ball', ball],
  ['backpiece', 'a sword', sword],
  ['backpiece', 'a sheet', sheet],
  ['backpiece', 'a wagon', wagon],
];

/** As a file has it: moved by a matrix, from millimetres. */
export const shapesOf = (made: readonly Made[], by: Matrix4 = new Matrix4()): ThingShape[] =>
  made.map((m) => {
    const glass = 'glass' in m;
    const g = (glass ? m.glass : m).clone().applyMatrix4(by);
    const positions = Float32Array.from(g.getAttribute('position').array);
    const index = g.getIndex();
    return {
      positions,
      triangles: index ? Uint32Array.from(index.array) : Uint32Array.from({ length: positions.length / 3 }, (_, i) => i),
      glass,
    };
  });
