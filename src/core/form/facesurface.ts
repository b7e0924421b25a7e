/** The face as a surface of its own: which of a form's triangles it is, and how a re-sculpted copy moves them. */
import type { FaceCover } from '../words/covers';
import { type Regioned, regionIndices } from './regions';

export interface FaceHoles {
  eyes: boolean;
  mouth: boolean;
}

/** Triangles of the face, or of some of it. @param holes left open: eyeballs, and what lies behind the lips */
export function faceIndices(form: Regioned, covers: FaceCover, holes: FaceHoles): Uint32Array {
  const { names, ids } = form.regions;
  const of = (name: string) => names.indexOf(name);
  const [eye, mouth] = [of('eye'), of('mouth')];
  const all = (test: (v: number) => boolean, from: ArrayLike<number>) => {
    const out: number[] = [];
    for (let i = 0; i < from.length; i += 3) if ([0, 1, 2].every((k) => test(from[i + k]))) out.push(from[i], from[i + 1], from[i + 2]);
    return Uint32Array.from(out);
  };
  if (covers === 'face')
    return all((v) => !(holes.eyes && ids[v] === eye) && !(holes.mouth && ids[v] === mouth), regionIndices(form, 'face'));
  if (covers === 'eyes') return all((v) => ids[v] === eye, form.indices);
  const part = of(covers === 'lids' ? 'lid' : covers === 'brows' ? 'brow' : 'lips');
  // and the triangles that lead to the skin round it, so that it ends where the skin begins
  const out: number[] = [];
  for (let i = 0; i < form.indices.length; i += 3) {
    const three = [form.indices[i], form.indices[i + 1], form.indices[i + 2]];
    if (three.some((v) => ids[v] === part) && !three.some((v) => ids[v] === mouth || ids[v] === eye)) out.push(...three);
  }
  return Uint32Array.from(out);
}
