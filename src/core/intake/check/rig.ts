/** Bones, weights and clips. */
import type { Document, Node, Primitive, Skin } from '@gltf-transform/core';
import { Matrix4, Quaternion, Vector3 } from 'three';
import type { ModelChannel, ModelClip } from '../../model/model';
import { sampleChannel } from '../../model/pose';
import type { Finding } from '../findings';
import { type CheckContext, count, finding, mend, some } from './context';

/** Bones a place of delivery usually takes (*common practice*). */
export const USUAL_BONES = 50;

export const weightSets = (p: Primitive): number => {
  let n = 0;
  while (p.getAttribute(`WEIGHTS_${n}`) && p.getAttribute(`JOINTS_${n}`)) n++;
  return n;
};

/** Bones of a skin that move a vertex, by index. */
export function weightedJoints(document: Document, skin: Skin): Set<number> {
  const out = new Set<number>();
  for (const node of document.getRoot().listNodes()) {
    if (node.getSkin() !== skin) continue;
    for (const p of node.getMesh()?.listPrimitives() ?? [])
      for (let s = 0; s < weightSets(p); s++) {
        const [j, w] = [p.getAttribute(`JOINTS_${s}`), p.getAttribute(`WEIGHTS_${s}`)];
        if (!j || !w) continue;
        const [ja, wa]: [number[], number[]] = [[], []];
        for (let i = 0; i < j.getCount(); i++) {
          j.getElement(i, ja);
          w.getElement(i, wa);
          for (let k = 0; k < 4; k++) if (wa[k] > 0) out.add(ja[k]);
        }
      }
  }
  return out;
}

/** Bones that move nothing, neither themselves nor through a bone under them. */
export function idleJoints(document: Document, skin: Skin): number[] {
  const joints = skin.listJoints();
  const busy = new Set([...weightedJoints(document, skin)].map((i) => joints[i]));
  // a bone above a busy one carries it; walked upwards, so that deep chains stay cheap
  const keeps = new Set(busy);
  for (const j of busy) for (let n = j?.getParentNode(); n && !keeps.has(n); n = n.getParentNode()) keeps.add(n);
  return joints.flatMap((j, i) => (keeps.has(j) || j === skin.getSkeleton() ? [] : [i]));
}

/** Vertices whose weights do not sum to 1 within 0.01. */
export function badSums(p: Primitive): number {
  const sets = weightSets(p);
  if (sets === 0) return 0;
  const row: number[] = [];
  const n = p.getAttribute('WEIGHTS_0')?.getCount() ?? 0;
  let bad = 0;
  for (let i = 0; i < n; i++) {
    let sum = 0;
    for (let s = 0; s < sets; s++) {
      p.getAttribute(`WEIGHTS_${s}`)?.getElement(i, row);
      sum += row[0] + row[1] + row[2] + row[3];
    }
    if (!(Math.abs(sum - 1) <= 0.01)) bad++;
  }
  return bad;
}

export function usesMoreThanFour(p: Primitive): boolean {
  for (let s = 1; s < weightSets(p); s++) {
    const a = p.getAttribute(`WEIGHTS_${s}`)?.getArray();
    if (a && Array.prototype.some.call(a, (x: number) => x !== 0)) return true;
  }
  return false;
}

/** Skinned shapes that hang under a node or have a place of their own: both are ignored (glTF 2.0, section 3.7.3.3). */
export const misplacedSkins = (document: Document): Node[] =>
  document
    .getRoot()
    .listNodes()
    .filter((n) => n.getSkin() && n.getMesh() && (n.getParentNode() !== null || !isAtRest(n)));

const isAtRest = (n: Node): boolean => n.getMatrix().every((x, i) => Math.abs(x - (i % 5 === 0 ? 1 : 0)) < 1e-6);

function checkSkins({ document, model }: CheckContext): Finding[] {
  const out: Finding[] = [];
  const skinned = document
    .getRoot()
    .listNodes()
    .filter((n) => n.getSkin() && n.getMesh())
    .flatMap((n) => n.getMesh()?.listPrimitives() ?? []);
  const primitives = [...new Set(skinned)];
  const many = primitives.filter(usesMoreThanFour).length;
  if (many)
    out.push(
      finding(
        'rig/influences',
        'warning',
        `${count(many, 'shape hangs', 'shapes hang')} on more than 4 bones a vertex. Many viewers take the first four and tear the rest.`,
        undefined,
        mend('four-influences', 'The four strongest bones of each vertex stay, their weights made to sum to 1.'),
      ),
    );
  const sums = primitives.reduce((s, p) => s + badSums(p), 0);
  if (sums)
    out.push(
      finding(
        'rig/weights',
        'warning',
        `The weights of ${count(sums, 'vertex', 'vertices')} do not sum to 1: posed, the shape shrinks towards the origin or grows there.`,
        undefined,
        mend('weights', 'Weights scaled to sum to 1; a vertex without any follows the first bone.'),
      ),
    );
  const misplaced = misplacedSkins(document);
  if (misplaced.length)
    out.push(
      finding(
        'rig/skin-not-root',
        'note',
        `${count(misplaced.length, 'skinned shape lies', 'skinned shapes lie')} under other nodes or ${misplaced.length === 1 ? 'has a place' : 'have places'} of ${misplaced.length === 1 ? 'its' : 'their'} own. Bones alone place it; some viewers place it twice.`,
        some(misplaced.map((n) => n.getName() || n.getMesh()?.getName() || 'unnamed')),
        mend('skins-to-root', `${count(misplaced.length, 'skinned shape')} put at the root of the scene; nothing moves.`),
      ),
    );
  const root = document.getRoot();
  const idle = root.listSkins().reduce((s, skin) => s + idleJoints(document, skin).length, 0);
  if (idle)
    out.push(
      finding(
        'rig/unused-bones',
        'note',
        `${count(idle, 'bone moves', 'bones move')} nothing.`,
        some(root.listSkins().flatMap((s) => idleJoints(document, s).map((i) => s.listJoints()[i].getName() || `bone ${i}`))),
        mend('unused-bones', `${count(idle, 'bone')} taken out of the skin; their nodes stay.`),
      ),
    );
  const bones = new Set(model.skins.flatMap((s) => s.joints)).size;
  if (bones > USUAL_BONES)
    out.push(
      finding(
        'rig/bones-over',
        'warning',
        `${bones} bones; places of delivery usually take ${USUAL_BONES}. Reducing them is a step in Prepare.`,
      ),
    );
  const scaled = model.skins.some((s) => s.joints.some((_, i) => !unitScale(s.inverseBind, i)));
  if (scaled)
    out.push(
      finding(
        'rig/bind-scale',
        'note',
        'The bind pose of the bones carries a scale. What hangs on them is sized by it; some programs drop it.',
      ),
    );
  return out;
}

const _m = /* @__PURE__ */ new Matrix4();
const _s = /* @__PURE__ */ new Vector3();

function unitScale(inverseBind: Float32Array, i: number): boolean {
  _m.fromArray(inverseBind, i * 16);
  _s.setFromMatrixScale(_m);
  return [_s.x, _s.y, _s.z].every((x) => Math.abs(x - 1) < 0.01);
}

/** Whether every key of a track is the same, within 1e-5. */
export function isConstant(values: ArrayLike<number>, size: number): boolean {
  for (let i = size; i < values.length; i++) if (!(Math.abs(values[i] - values[i % size]) <= 1e-5)) return false;
  return true;
}

const _a = /* @__PURE__ */ new Quaternion();
const _b = /* @__PURE__ */ new Quaternion();

/** How far a clip's last pose is from its first: the widest angle in degrees, the longest way as a share of the model. */
export function loopGap(clip: ModelClip, sizeM: number): { deg: number; way: number } {
  let [deg, way] = [0, 0];
  for (const c of clip.channels) {
    const [from, to] = [sampleChannel(c, c.times[0]), sampleChannel(c, c.times[c.times.length - 1])];
    if (c.path === 'rotation') deg = Math.max(deg, (_a.fromArray(from).normalize().angleTo(_b.fromArray(to).normalize()) * 180) / Math.PI);
    if (c.path === 'translation' && sizeM > 0) way = Math.max(way, Math.hypot(...from.map((x, i) => x - to[i])) / sizeM);
  }
  return { deg, way };
}

/** Tracks of several keys that never change and that the clip's length does not hang on. */
export function stillTracks(clip: ModelClip): ModelChannel[] {
  const still = clip.channels.filter((ch) => ch.interpolation !== 'CUBICSPLINE' && ch.times.length > 1 && isConstant(ch.values, ch.size));
  const rest = clip.channels.filter((ch) => !still.includes(ch));
  return rest.some((ch) => ch.times[ch.times.length - 1] >= clip.seconds - 1e-6) ? still : [];
}

function checkClips({ model, sizeM }: CheckContext): Finding[] {
  const out: Finding[] = [];
  const still = model.clips.flatMap(stillTracks);
  if (still.length)
    out.push(
      finding(
        'clip/constant-tracks',
        'note',
        `${count(still.length, 'track')} of the clips never ${still.length === 1 ? 'changes' : 'change'}.`,
        undefined,
        mend('constant-tracks', `${count(still.length, 'track')} cut to one key, or taken out where the model rests there anyway.`),
      ),
    );
  model.clips.forEach((c, i) => {
    const name = c.name || `clip ${i}`;
    if (c.seconds <= 0) {
      out.push(finding('clip/empty', 'note', `${name} has no length: it is a pose, not a motion.`, name));
      return;
    }
    const { deg, way } = loopGap(c, sizeM);
    if (deg > 3 || way > 0.02)
      out.push(
        finding(
          'clip/loop-gap',
          'note',
          `${name} ends ${deg > 3 ? `${Math.round(deg)}° turned` : `${Math.round(way * 100)} % of the model’s size`} from where it begins: it jumps when it repeats.`,
          name,
        ),
      );
  });
  return out;
}

export const checkRig = (c: CheckContext): Finding[] => [...checkSkins(c), ...checkClips(c)];
