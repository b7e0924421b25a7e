/** The ways a thing of a kind may stand: across its planes of symmetry, turned as things of its kind are. */
import { Matrix4, Quaternion, Vector3 } from 'three';
import { quarterQuaternion, rankTurns } from '../../model/lie/turn';
import type { Kind } from '../../words/kinds';
import { type Mirror, mirrorsOf } from './mirror';
import { Stand } from './stand';
import type { Thing } from './thing';

export interface Likely {
  stand: Stand;
  /** Of all ways, the share of likelihood by its looks alone. */
  share: number;
}

/** Kinds whose two sides need not be alike. */
const ONE_SIDED: readonly Kind[] = ['earring', 'prop'];
/** Spreads in the plane that differ by less tell little of where up is. */
const ROUND = 1.3;
const LEAST_SHARE = 0.004;
const MOST_A_FRAME = 4;
const MOST = 8;
/** A plane this much worse than the best is none. */
const WORSE = 0.02;

/** Axes of a frame whose side is the plane's normal, the widest spread in the plane up, turned by an angle in the plane. */
function frameOf(thing: Thing, { normal }: Mirror, byRad: number): { turn: Quaternion; ratio: number } {
  const u = new Vector3().crossVectors(normal, Math.abs(normal.x) < 0.7 ? new Vector3(1, 0, 0) : new Vector3(0, 1, 0)).normalize();
  const v = new Vector3().crossVectors(normal, u);
  const moment = (a: Vector3, b: Vector3) => {
    let sum = 0;
    for (let i = 0; i < 3; i++) for (let j = 0; j < 3; j++) sum += a.getComponent(i) * thing.moments[i][j] * b.getComponent(j);
    return sum;
  };
  const [uu, vv, uv] = [moment(u, u), moment(v, v), moment(u, v)];
  const angle = Math.atan2(2 * uv, uu - vv) / 2 + byRad;
  const apart = Math.hypot((uu - vv) / 2, uv);
  const mean = (uu + vv) / 2;
  const up = u.multiplyScalar(Math.cos(angle)).addScaledVector(v, Math.sin(angle));
  return { turn: basis(normal, up), ratio: Math.sqrt((mean + apart) / Math.max(mean - apart, 1e-12)) };
}

/** Two planes that are its mirrors nearly, and square to each other, meet in its own upright. */
const ALSO = 0.015;
const SQUARE = 0.15;

function framesOf(thing: Thing, m: Mirror, all: readonly Mirror[]): Quaternion[] {
  const out: Quaternion[] = [];
  for (const o of all)
    if (o.skew < ALSO && Math.abs(o.normal.dot(m.normal)) < SQUARE) {
      const up = new Vector3().crossVectors(o.normal, m.normal).normalize();
      out.push(basis(m.normal, up));
    }
  const own = frameOf(thing, m, 0);
  out.push(own.turn);
  if (own.ratio < ROUND) out.push(frameOf(thing, m, Math.PI / 4).turn);
  return out;
}

const basis = (side: Vector3, up: Vector3): Quaternion =>
  new Quaternion().setFromRotationMatrix(new Matrix4().makeBasis(side, up, new Vector3().crossVectors(side, up)).transpose());

/** Turned by less than this they stand alike. */
const ALIKE_RAD = 0.06;
/** By so much more beside its mirror image a plane is half as likely as another. */
const SKEW_COUNTS = 0.002;

/**
 * The likeliest first; their shares sum to 1 at most.
 * @param level brings it upright by what a thing of its kind is upright by, where it nearly is
 */
export function standsOf(kind: Kind, thing: Thing, level: (stand: Stand) => Stand): Likely[] {
  const mirrors = mirrorsOf(thing);
  const out: Likely[] = [];
  const rank = (seen: Stand) => rankTurns(kind, { count: thing.count, points: seen.points, glass: thing.glass });
  for (const m of mirrors) {
    if (m.skew > mirrors[0].skew + WORSE) continue;
    for (const turn of framesOf(thing, m, mirrors)) {
      const origin = m.normal.clone().multiplyScalar(m.offset);
      const may = rank(new Stand(thing, turn, origin, m.skew)).filter(
        ({ turn: t, share }) => share > LEAST_SHARE && (t.from[0] === 0 || ONE_SIDED.includes(kind)),
      );
      for (const { turn: t } of may.slice(0, MOST_A_FRAME)) {
        const stand = level(new Stand(thing, quarterQuaternion(t).multiply(turn), origin, t.from[0] === 0 ? m.skew : NaN));
        if (out.some((o) => o.stand.turn.angleTo(stand.turn) < ALIKE_RAD)) continue;
        // upright it may still look the other way round, or stand on its head
        for (const r of rank(stand)) {
          if (r.turn.from.some((axis, k) => axis !== k)) continue;
          const round = new Stand(thing, quarterQuaternion(r.turn).multiply(stand.turn), origin, stand.skew);
          if (out.some((o) => o.stand.turn.angleTo(round.turn) < ALIKE_RAD)) continue;
          out.push({ stand: round, share: (r.share * SKEW_COUNTS) / (SKEW_COUNTS + m.skew - mirrors[0].skew) });
        }
      }
    }
  }
  const total = out.reduce((s, l) => s + l.share, 0);
  return out
    .sort((a, b) => b.share - a.share)
    .slice(0, MOST)
    .map((l) => ({ ...l, share: l.share / total }));
}
