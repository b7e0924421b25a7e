/** Writing a GLB without losing small moves of nodes. */
import type { Document, WebIO } from '@gltf-transform/core';

const REST = { translation: [0, 0, 0], rotation: [0, 0, 0, 1], scale: [1, 1, 1] } as const;
/** Smaller than any float of a place in metres tells. */
const NOTHING = 1e-9;

type Moves = Partial<Record<keyof typeof REST, readonly number[]>>;

/** What the package's writer leaves out, as under 1e-5: below a node that is sized up it is seen (0.4 mm under one sized ×135). */
function lostMoves(document: Document): Map<number, Moves> {
  const lost = new Map<number, Moves>();
  document
    .getRoot()
    .listNodes()
    .forEach((n, i) => {
      const is = { translation: n.getTranslation(), rotation: n.getRotation(), scale: n.getScale() };
      for (const key of Object.keys(REST) as (keyof typeof REST)[]) {
        const most = Math.max(...is[key].map((x, k) => Math.abs(x - REST[key][k])));
        if (most > NOTHING && most <= 2e-5) lost.set(i, { ...lost.get(i), [key]: is[key] });
      }
    });
  return lost;
}

/** A GLB with another JSON chunk; all else stays. (glTF 2.0, section 4.4: padded with blanks to a multiple of four.) */
export function withJson(glb: Uint8Array, text: Uint8Array): Uint8Array<ArrayBuffer> {
  const length = new DataView(glb.buffer, glb.byteOffset, glb.byteLength).getUint32(12, true);
  const padded = Math.ceil(text.length / 4) * 4;
  const out = new Uint8Array(glb.length - length + padded).fill(0x20, 20, 20 + padded);
  out.set(glb.subarray(0, 20));
  out.set(text, 20);
  out.set(glb.subarray(20 + length), 20 + padded);
  const view = new DataView(out.buffer);
  view.setUint32(8, out.length, true);
  view.setUint32(12, padded, true);
  return out;
}

/** As `io.writeBinary`, every node where it is. */
export async function writeBinary(io: WebIO, document: Document): Promise<Uint8Array<ArrayBuffer>> {
  const lost = lostMoves(document);
  const glb = (await io.writeBinary(document)) as Uint8Array<ArrayBuffer>;
  if (lost.size === 0) return glb;
  const view = new DataView(glb.buffer, glb.byteOffset, glb.byteLength);
  const length = view.getUint32(12, true);
  const json = JSON.parse(new TextDecoder().decode(glb.subarray(20, 20 + length))) as { nodes: Moves[] };
  for (const [i, moves] of lost) for (const [key, value] of Object.entries(moves)) json.nodes[i][key as keyof Moves] ??= value;
  return withJson(glb, new TextEncoder().encode(JSON.stringify(json)));
}
