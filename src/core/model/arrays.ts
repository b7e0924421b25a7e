/** Accessors as plain numbers, read whole and written whole. */
import type { Accessor, Document, Primitive, PrimitiveTarget } from '@gltf-transform/core';

/** A copy of the accessor's numbers, normalised integers as floats. */
export function readFloats(a: Accessor): Float32Array {
  const array = a.getArray();
  if (array instanceof Float32Array && !a.getNormalized()) return array.slice();
  const n = a.getCount();
  const size = a.getElementSize();
  const out = new Float32Array(n * size);
  const row: number[] = [];
  for (let i = 0; i < n; i++) out.set(a.getElement(i, row).slice(0, size), i * size);
  return out;
}

export const writeFloats = (a: Accessor, values: Float32Array): Accessor =>
  a.setArray(values as Float32Array<ArrayBuffer>).setNormalized(false);

/** Gives a primitive numbers of its own for an attribute it has, as floats. */
export function putFloats(p: Primitive, name: string, values: Float32Array): void {
  const a = p.getAttribute(name);
  if (a) p.setAttribute(name, writeFloats(a.clone(), values));
}

/** Applies `change` to every accessor once, however many share it. */
export class OncePerAccessor {
  private readonly done = new Set<Accessor>();
  apply(a: Accessor | null, change: (values: Float32Array, size: number) => void): void {
    if (!a || this.done.has(a)) return;
    this.done.add(a);
    const values = readFloats(a);
    change(values, a.getElementSize());
    writeFloats(a, values);
  }
}

const gather = (a: Accessor, source: ArrayLike<number>): Accessor => {
  const size = a.getElementSize();
  const from = a.getArray();
  const copy = a.clone();
  if (!from) return copy;
  const to = new (from.constructor as new (n: number) => typeof from)(source.length * size);
  for (let i = 0; i < source.length; i++) for (let k = 0; k < size; k++) to[i * size + k] = from[source[i] * size + k];
  return copy.setArray(to as never);
};

/** Gives a primitive the vertices `source` of its own old ones, in that order, and a triangle list over them. */
export function remapPrimitive(document: Document, p: Primitive, source: ArrayLike<number>, triangles: ArrayLike<number>): void {
  for (const owner of [p, ...p.listTargets()] as (Primitive | PrimitiveTarget)[])
    for (const name of owner.listSemantics()) {
      const a = owner.getAttribute(name);
      if (a) owner.setAttribute(name, gather(a, source));
    }
  setTriangles(document, p, triangles, source.length);
}

/** Writes a triangle list in the smallest type that holds it. */
export function setTriangles(document: Document, p: Primitive, triangles: ArrayLike<number>, vertices: number): void {
  const array = vertices <= 65535 ? Uint16Array.from(triangles) : Uint32Array.from(triangles);
  const buffer = p.getAttribute('POSITION')?.getBuffer() ?? document.getRoot().listBuffers()[0] ?? document.createBuffer();
  p.setMode(4).setIndices(document.createAccessor().setType('SCALAR').setArray(array).setBuffer(buffer));
}
