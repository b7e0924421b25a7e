/** What is wrong with the shapes themselves. */
import type { Primitive } from '@gltf-transform/core';
import type { ModelPrimitive } from '../../model/model';
import type { Finding } from '../findings';
import { type CheckContext, count, finding, isGlass, mend, placedPrimitives, some } from './context';
import { findInnerShells } from './inside';
import {
  EPSILON,
  extent,
  facesInwards,
  findBacks,
  findCrumbs,
  findDuplicates,
  isDegenerate,
  isEnclosed,
  joinPrimitives,
  MAX_CHECKED_TRIANGLES,
  openShells,
  type Soup,
  triangleKey,
  unlitShells,
} from './shells';
import { findTopology, shellBoxes, shellVolumes } from './topology';

interface Tally {
  notFinite: number;
  degenerate: number;
  duplicates: number;
  twisted: number;
  insideOut: number;
  inwards: number;
  torn: number;
  crowded: number;
  holes: number;
  holesSingle: boolean;
  inner: number;
  crumbs: number;
  names: Record<
    'notFinite' | 'degenerate' | 'duplicates' | 'flipped' | 'inwards' | 'torn' | 'crowded' | 'holes' | 'inner' | 'crumbs',
    string[]
  >;
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
  // where no edge has more than two, no sheet of two triangles or more has a back of its own
  const backs = first.crowdedEdges > 0 ? findBacks(soup, first.place) : new Set<number>();
  // what is left is looked at as the shape it means to be
  const seen = new Set<string>();
  const clean: number[] = [];
  const owner: number[] = [];
  for (let t = 0; t < soup.owner.length; t++) {
    const key = triangleKey(soup.triangles, first.place, t);
    if (flat[t] || seen.has(key) || backs.has(t)) continue;
    seen.add(key);
    clean.push(soup.triangles[t * 3], soup.triangles[t * 3 + 1], soup.triangles[t * 3 + 2]);
    owner.push(soup.owner[t]);
  }
  const topo = degenerate + duplicates + backs.size > 0 ? findTopology(soup.positions, clean, Math.max(diagonal * EPSILON, 1e-30)) : first;
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
  let [insideOut, inwards] = [0, 0];
  const meant = facesInwards(boxes, unlitShells(soup, topo, raw));
  for (let s = 0; s < topo.shells; s++) {
    if (!closed(s) || topo.twistedOf[s] > 0 || volumes[s] >= 0 || isEnclosed(boxes, s)) continue;
    if (meant(s)) inwards += trianglesOf[s];
    else insideOut += trianglesOf[s];
  }
  out.inwards += inwards;
  say('inwards', inwards);
  out.insideOut += insideOut;
  say('flipped', topo.twistedEdges + insideOut);
  const { holed, torn } = openShells(soup, topo);
  const holes = holed.reduce((n, shell) => n + topo.openOf[shell], 0);
  const rents = torn.reduce((n, shell) => n + topo.openOf[shell], 0);
  out.torn += rents;
  say('torn', rents);
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

export function checkGeometry({ document, model, sizeM }: CheckContext): Finding[] {
  const raw = placedPrimitives(document);
  const tally: Tally = {
    notFinite: 0,
    degenerate: 0,
    duplicates: 0,
    twisted: 0,
    insideOut: 0,
    inwards: 0,
    torn: 0,
    crowded: 0,
    holes: 0,
    holesSingle: false,
    inner: 0,
    crumbs: 0,
    names: {
      notFinite: [],
      degenerate: [],
      duplicates: [],
      flipped: [],
      inwards: [],
      torn: [],
      crowded: [],
      holes: [],
      inner: [],
      crumbs: [],
    },
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
  if (tally.inwards)
    out.push(
      finding(
        'geometry/inwards',
        'note',
        `${count(tally.inwards, 'triangle faces', 'triangles face')} inwards, as those of a room or a sky do: it is seen from within.`,
        some(n.inwards),
        mend('outwards', 'They are turned to face outwards, their normals with them.'),
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
  if (tally.torn)
    out.push(
      finding(
        'geometry/torn',
        'note',
        `${count(tally.torn, 'open edge')}, over a fifth of all, in shapes that come round on themselves: they are torn, or their parts were never joined.`,
        some(n.torn),
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
