import { Document, WebIO } from '@gltf-transform/core';
import { validateBytes } from 'gltf-validator';
import { expect, test } from 'vitest';
import { readModel } from './model';
import { nodeMatrices, restPose } from './pose';
import { writeBinary } from './write';

test('a move of 3.3 µm under a node sized ×135 is 0.45 mm, and is there after writing and reading', async () => {
  const document = new Document();
  const under = document.createNode('under').setTranslation([0, 3.3e-6, 0]).setRotation([4e-6, 0, 0, 1]).setScale([1, 1.000004, 1]);
  const exact = document.createNode('exact');
  document.createScene().addChild(document.createNode('large').setScale([135, 135, 135]).addChild(under).addChild(exact));
  const io = new WebIO();
  const glb = await writeBinary(io, document);
  const model = readModel(await io.readBinary(glb));
  const place = nodeMatrices(model, restPose(model))[model.nodes.findIndex((n) => n.name === 'under')].elements;
  expect(place[13] * 1000).toBeCloseTo(0.4455, 6);
  const { issues } = await validateBytes(glb, { maxIssues: 0 });
  expect(issues.messages.filter((m) => m.severity === 0)).toEqual([]);
  // what is at rest is not written, and where nothing is small the bytes are the package's
  expect(new TextDecoder().decode(glb)).toMatch(/\{"name":"exact"\}/);
  under.setTranslation([0, 0, 0]).setRotation([0, 0, 0, 1]).setScale([1, 1, 1]);
  expect(Buffer.compare(await writeBinary(io, document), await io.writeBinary(document))).toBe(0);
});
