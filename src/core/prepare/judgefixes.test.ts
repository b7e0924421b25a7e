/** Fixes looked at before they are offered. */
import type { Document } from '@gltf-transform/core';
import { expect, describe as group, it } from 'vitest';
import { tools } from '../../../e2e/support/preparing';
import { inspectModel, isUnseen } from '../intake';
import { judgeFixes } from './judgefixes';
import { addSurface, sphere, surfaceDocument } from './samples';

/** A ball with so many triangles missing round its upper pole, and what else is put beside it. */
function holed(missing: number, more: (d: Document) => void = () => undefined): Document {
  const document = surfaceDocument('ball', sphere(0.1), 32, 16);
  const [p] = document.getRoot().listMeshes()[0].listPrimitives();
  const list = p.getIndices()?.getArray() as Uint16Array;
  const buffer = document.getRoot().listBuffers()[0];
  p.setIndices(
    document
      .createAccessor()
      .setArray(list.slice(0, list.length - missing * 3))
      .setBuffer(buffer),
  );
  more(document);
  return document;
}
const judged = async (document: Document) => {
  const addresses: number[] = [];
  const { findings } = inspectModel({ document, format: 'glb' }, 1000);
  const out = await judgeFixes(document, findings, async () => [], {
    ...tools(),
    address: async ({ width, height }) => {
      addresses.push(width * height);
      return 'data:picture';
    },
  });
  return { out, addresses, holes: out.find((f) => f.code === 'geometry/open-edges') };
};

group('a hole', () => {
  it('that is seen is closed singly: the finding says where it shows, with both pictures', async () => {
    const { holes, addresses } = await judged(holed(128));
    expect(holes?.fix?.shows).toMatchObject({ view: 'from above', picture: 'data:picture' });
    expect(holes?.fix?.shows?.ssim).toBeLessThan(0.9975);
    expect(holes && isUnseen(holes)).toBe(false);
    expect(addresses).toHaveLength(1);
  });
  it('that another shape fills lets no light through: a note, mended with all', async () => {
    const { holes } = await judged(holed(128, (d) => addSurface(d, 'cap', sphere(0.101), 32, 16, d.getRoot().listMaterials()[0])));
    expect(holes?.level).toBe('note');
    expect(holes?.message).toContain('None of it is seen from outside');
    expect(holes && isUnseen(holes)).toBe(true);
  });
});
it('what cannot change a picture is not looked at, and comes back as it was', async () => {
  const document = surfaceDocument('ball', sphere(0.1), 16, 8);
  const { findings } = inspectModel({ document, format: 'glb' }, 1000);
  const none = findings.map((f) => ({ ...f, fix: undefined }));
  expect(await judgeFixes(document, none, () => Promise.reject(new Error('not asked')), { ...tools(), address: async () => null })).toEqual(
    none,
  );
});
