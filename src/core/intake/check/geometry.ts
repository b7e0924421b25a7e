/** What is wrong with the shapes themselves. */
import type { Primitive } from '@gltf-transform/core';
import type { ModelPrimitive } from '../../model/model';
import type { Finding } from '../findings';
import { triangleArea } from '../placing/sample';
import { type CheckContext, count, finding, isGlass, mend, placedPrimitives, some } from './context';
import { findInnerShells } from './inside';
import { findTopology, shellBoxes, shellVolumes } from './topology';

/** One mesh as a single triangle soup: primitives one after another. */
export interface Soup {
  positions: Float32Array;
  triangles: Uint32Array;
  /** Triangle → primitive. */
  owner: Uint16Array;
}

export const MAX_CHECKED_TRIANGLES = 3_000_000;

export function joinPrimitives(primitives: readonly Pick<ModelPrimitive, 'positions' | 'triangles'>[]): Soup {
  const positions = new Float32Array(primitives.reduce((s, p) => s + p.positions.length, 0));
  const triangles = new Uint32Array(primitives.reduce((s, p) => s + p.triangles.length, 0));
  const owner = new Uint16Array(triangles.length / 3);
  let [v, t] = [0, 0];
  primitives.forEach((p, i) => {
    positions.set(p.positions, v * 3);
    for (const [k, at] of p.triangles.entries()) triangles[t + k] = at + v;
    owner.fill(i, t / 3, (t + p.triangles.length) / 3);
    v += p.positions.length / 3;
    t += p.triangles.length;
  });
  return { positions, triangles, owner };
}

export function extent(positions: ArrayLike<number>): number {
  const box = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity];
  for (let i = 0; i < positions.length; i++) {
    const x = positions[i];
    if (x < box[i % 3]) box[i % 3] = x;
    if (x > box[3 + (i % 3)]) box[3 + (i % 3)] = x;
  }
  const d = Math.hypot(box[3] - box[0], box[4] - box[1], box[5] - box[2]);
  return Number.isFinite(d) ? d : 0;
}

/** Two corners at one place, or no area to speak of: under 1e-9 of the model's own size, squared. */
export function isDegenerate(soup: Pick<Soup, 'positions' | 'triangles'>, place: ArrayLike<number>, t: number, diagonal: number): boolean {
  const [a, b, c] = [soup.triangles[t * 3], soup.triangles[t * 3 + 1], soup.triangles[t * 3 + 2]];
  if (place[a] === place[b] || place[b] === place[c] || place[a] === place[c]) return true;
  return !(triangleArea(soup.positions, a, b, c) > 1e-12 * diagonal * diagonal);
}

/** The three places of a triangle, lowest first, as a key that ignores which corner comes first and which way it faces. */
export function triangleKey(triangles: ArrayLike<number>, place: ArrayLike<number>, t: number): string {
  const k = [place[triangles[t * 3]], place[triangles[t * 3 + 1]], place[triangles[t * 3 + 2]]].sort((x, y) => x - y);
  return `${k[0]} ${k[1]} ${k[2]}`;
}

export const EPSILON = 2e-6;

/** Indices of triangles that repeat an earlier one. */
export function findDuplicates(soup: Soup, place: ArrayLike<number>): number[] {
  const seen = new Set<string>();
  const out: number[] = [];
  for (let t = 0; t < soup.owner.length; t++) {
    const key = triangleKey(soup.triangles, place, t);
    if (seen.has(key)) out.push(t);
    else seen.add(key);
  }
  return out;
}

interface Tally {
  notFinite: number;
  degenerate: number;
  duplicates: number;
  twisted: number;
  insideOut: number;
  crowded: number;
  holes: number;
  holesSingle: boolean;
  inner: number;
  crumbs: number;
  names: Record<'notFinite' | 'degenerate' | 'duplicates' | 'flipped' | 'crowded' | 'holes' | 'inner' | 'crumbs', string[]>;
}

function checkMesh(name: string, primitives: readonly ModelPrimitive[], raw: readonly Primitive[], modelSize: number, out: Tally): void {
  const bad = primitives.reduce((s, p) => s + p.positions.reduce((n, x) => n + (Number.isFinite(x) ? 0 : 1), 0), 0);
  if (bad > 0) {
    out.notFinite += bad;
    out.names.notFinite.push(name);
    return;
  }
  const soup = joinPrimitives(primitives);
  if (soup.owner.length === 0 || soup.owner.length > MAX_CHECKED_TRIANGLES) return;
  const diagonal = extent(soup.positions);
  const first = findTopology(soup.positions, soup.triangles, Math.max(diagonal * EPSILON, 1e-30));
  const say = (key: keyof Tally['names'], n: number) => n > 0 && out.names[key].push(name);
  const flat: boolean[] = Array.from(soup.owner, (_, t) => isDegenerate(soup, first.place, t, diagonal));
  const degenerate = flat.filter(Boolean).length;
  const duplicates = findDuplicates(soup, first.place).filter((t) => !flat[t]).length;
  out.degenerate += degenerate;
  say('degenerate', degenerate);
  out.duplicates += duplicates;
  say('duplicates', duplicates);
  // what is left is looked at as the shape it means to be
  const seen = new Set<string>();
  const clean: number[] = [];
  const owner: number[] = [];
  for (let t = 0; t < soup.owner.length; t++) {
    const key = triangleKey(soup.triangles, first.place, t);
    if (flat[t] || seen.has(key)) continue;
    seen.add(key);
    clean.push(soup.triangles[t * 3], soup.triangles[t * 3 + 1], soup.triangles[t * 3 + 2]);
    owner.push(soup.owner[t]);
  }
  const topo = degenerate + duplicates > 0 ? findTopology(soup.positions, clean, Math.max(diagonal * EPSILON, 1e-30)) : first;
  checkShells(
    name,
    { positions: soup.positions, triangles: Uint32Array.from(clean), owner: Uint16Array.from(owner) },
    topo,
    raw,
    modelSize,
    out,
  );
}

function checkShells(
  name: string,
  soup: Soup,
  topo: ReturnType<typeof findTopology>,
  raw: readonly Primitive[],
  modelSize: number,
  out: Tally,
): void {
  const say = (key: keyof Tally['names'], n: number) => n > 0 && out.names[key].push(name);
  out.crowded += topo.crowdedEdges;
  say('crowded', topo.crowdedEdges);
  out.twisted += topo.twistedEdges;
  const boxes = shellBoxes(soup.positions, soup.triangles, topo.shell, topo.shells);
  const volumes = shellVolumes(soup.positions, soup.triangles, topo.shell, topo.shells);
  const glassShell = new Uint8Array(topo.shells);
  const trianglesOf = new Uint32Array(topo.shells);
  for (let t = 0; t < topo.shell.length; t++) {
    const s = topo.shell[t];
    trianglesOf[s]++;
    if (raw[soup.owner[t]] && isGlass(raw[soup.owner[t]])) glassShell[s] = 1;
  }
  const closed = (s: number) => topo.openOf[s] === 0 && topo.crowdedOf[s] === 0;
  let insideOut = 0;
  for (let s = 0; s < topo.shells; s++) {
    if (closed(s) && topo.twistedOf[s] === 0 && volumes[s] < 0 && !isEnclosed(boxes, s)) insideOut += trianglesOf[s];
  }
  out.insideOut += insideOut;
  say('flipped', topo.twistedEdges + insideOut);
  const holes = holedShells(soup, topo).reduce((n, shell) => n + topo.openOf[shell], 0);
  out.holes += holes;
  say('holes', holes);
  if (holes > 0 && raw.some((p) => !p.getMaterial()?.getDoubleSided())) out.holesSingle = true;
  const inner = findInnerShells(soup, topo, boxes, (s) => closed(s) && !glassShell[s]).reduce((n, s) => n + trianglesOf[s], 0);
  out.inner += inner;
  say('inner', inner);
  const crumbs = findCrumbs(topo.shells, boxes, trianglesOf, modelSize).length;
  out.crumbs += crumbs;
  say('crumbs', crumbs);
}

/** Shells that are all but closed: their areas nearly cancel out, as they do exactly where nothing is missing. */
export function holedShells(soup: Soup, topo: ReturnType<typeof findTopology>): number[] {
  const areas = new Float64Array(topo.shells * 4);
  const triangles = new Uint32Array(topo.shells);
  for (let t = 0; t < topo.shell.length; t++) {
    triangles[topo.shell[t]]++;
    addArea(soup, t, areas, topo.shell[t] * 4);
  }
  return Array.from({ length: topo.shells }, (_, s) => s).filter((s) => {
    const lean = Math.hypot(areas[s * 4], areas[s * 4 + 1], areas[s * 4 + 2]) / (areas[s * 4 + 3] || 1);
    const open = topo.openOf[s] / (triangles[s] * 1.5);
    return topo.openOf[s] > 0 && topo.crowdedOf[s] === 0 && lean < 0.12 && open < 0.2;
  });
}

function addArea(soup: Soup, t: number, out: Float64Array, at: number): void {
  const p = soup.positions;
  const [a, b, c] = [soup.triangles[t * 3] * 3, soup.triangles[t * 3 + 1] * 3, soup.triangles[t * 3 + 2] * 3];
  const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
  const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
  const [x, y, z] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
  out[at] += x;
  out[at + 1] += y;
  out[at + 2] += z;
  out[at + 3] += Math.hypot(x, y, z);
}

/** Whether the shell's box lies within another's: such a wall may well face inwards. */
export function isEnclosed(boxes: Float64Array, s: number): boolean {
  for (let o = 0; o < boxes.length / 6; o++) if (o !== s && boxWithin(boxes, s, o)) return true;
  return false;
}

const boxWithin = (boxes: Float64Array, s: number, o: number) =>
  [0, 1, 2].every((k) => boxes[s * 6 + k] > boxes[o * 6 + k] && boxes[s * 6 + 3 + k] < boxes[o * 6 + 3 + k]);

/** Shells of a few triangles, far under a hundredth of the model, with nothing near: what is left over from modelling. */
export function findCrumbs(shells: number, boxes: Float64Array, trianglesOf: ArrayLike<number>, modelSize: number): number[] {
  if (shells < 2 || shells > 5_000) return [];
  const size = (s: number) => Math.hypot(...[0, 1, 2].map((k) => boxes[s * 6 + 3 + k] - boxes[s * 6 + k]));
  const out: number[] = [];
  for (let s = 0; s < shells; s++) {
    const d = size(s);
    if (trianglesOf[s] > 12 || d > modelSize * 0.01) continue;
    const reach = d * 3;
    let alone = true;
    for (let o = 0; o < shells && alone; o++)
      if (
        o !== s &&
        [0, 1, 2].every((k) => boxes[s * 6 + k] - reach < boxes[o * 6 + 3 + k] && boxes[s * 6 + 3 + k] + reach > boxes[o * 6 + k])
      )
        alone = false;
    if (alone) out.push(s);
  }
  return out.length < shells ? out : [];
}

export function checkGeometry({ document, model, sizeM }: CheckContext): Finding[] {
  const raw = placedPrimitives(document);
  const tally: Tally = {
    notFinite: 0,
    degenerate: 0,
    duplicates: 0,
    twisted: 0,
    insideOut: 0,
    crowded: 0,
    holes: 0,
    holesSingle: false,
    inner: 0,
    crumbs: 0,
    names: { notFinite: [], degenerate: [], duplicates: [], flipped: [], crowded: [], holes: [], inner: [], crumbs: [] },
  };
  for (const [i, m] of model.meshes.entries()) checkMesh(m.name || `mesh ${i}`, m.primitives, raw[i], sizeM * meshScale(model, i), tally);
  const out: Finding[] = [];
  const n = tally.names;
  if (tally.notFinite)
    out.push(
      finding(
        'geometry/not-finite',
        'blocker',
        `${count(tally.notFinite, 'number')} of the vertex positions ${tally.notFinite === 1 ? 'is' : 'are'} not a number or infinite. Viewers draw spikes or nothing.`,
        some(n.notFinite),
        mend('not-finite', 'Triangles with such a corner are taken out.'),
      ),
    );
  if (tally.degenerate)
    out.push(
      finding(
        'geometry/degenerate',
        'note',
        `${count(tally.degenerate, 'triangle has', 'triangles have')} no area: memory for what is never seen.`,
        some(n.degenerate),
        mend('degenerate', `${count(tally.degenerate, 'triangle')} without area taken out.`),
      ),
    );
  if (tally.duplicates)
    out.push(
      finding(
        'geometry/duplicates',
        'warning',
        `${count(tally.duplicates, 'triangle lies', 'triangles lie')} twice in the same place. They flicker and cost twice.`,
        some(n.duplicates),
        mend('duplicates', `${count(tally.duplicates, 'repeated triangle')} taken out.`),
      ),
    );
  if (tally.twisted + tally.insideOut)
    out.push(
      finding(
        'geometry/flipped',
        'warning',
        tally.insideOut
          ? `${count(tally.insideOut, 'triangle faces', 'triangles face')} inwards. Seen from outside there is a hole.`
          : `Along ${count(tally.twisted, 'edge')} neighbouring triangles face opposite ways. One of them is invisible from outside.`,
        some(n.flipped),
        mend('flipped', 'Triangles turned to face outwards, their normals with them.'),
      ),
    );
  if (tally.crowded)
    out.push(
      finding(
        'geometry/non-manifold',
        'note',
        `${count(tally.crowded, 'edge joins', 'edges join')} more than two triangles. Simplifying and inside tests are less exact there.`,
        some(n.crowded),
      ),
    );
  if (tally.holes)
    out.push(
      finding(
        'geometry/open-edges',
        tally.holesSingle ? 'warning' : 'note',
        `${count(tally.holes, 'open edge')} in shapes that are otherwise closed.${tally.holesSingle ? ' Light shows through.' : ''}`,
        some(n.holes),
        mend('close', `${count(tally.holes, 'open edge')} closed with flat covers.`),
      ),
    );
  if (tally.inner)
    out.push(
      finding(
        'geometry/inner-shells',
        'note',
        `${count(tally.inner, 'triangle lies', 'triangles lie')} inside closed, opaque shapes and can never be seen.`,
        some(n.inner),
        mend('inner-shells', `${count(tally.inner, 'hidden triangle')} taken out.`),
      ),
    );
  if (tally.crumbs)
    out.push(
      finding(
        'geometry/crumbs',
        'note',
        `${count(tally.crumbs, 'crumb')}: detached bits of a few triangles, under a hundredth of the model.`,
        some(n.crumbs),
        mend('crumbs', `${count(tally.crumbs, 'crumb')} taken out.`),
      ),
    );
  return out;
}

/** How many of a mesh's own units the model's metre is: the inverse of its node's scale, taken from its first node. */
function meshScale(model: CheckContext['model'], mesh: number): number {
  for (const n of model.nodes) {
    if (n.mesh !== mesh) continue;
    let s = 1;
    for (let at: typeof n | undefined = n; at; at = model.nodes[at.parent]) s *= Math.max(...at.scale.map(Math.abs)) || 1;
    return 1 / s;
  }
  return 1;
}
