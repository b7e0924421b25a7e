/** The form as files to model and paint upon. Metres, head frame; UVs as the form has them. */
import { Document, type Primitive } from '@gltf-transform/core';
import type { Form } from './form';

export const formName = (wearer: string): string => `Scaphos form ${wearer}`;

/** Wavefront OBJ, one group for the skin and one for the eyes. Positions in metres to the hundredth of a millimetre and finer. */
export function formObj(form: Form, wearer: string): string {
  const lines = [
    `# ${formName(wearer)}: a head and bust to model upon. Metres, +Y up, +Z fore, origin between the tragions.`,
    `o ${formName(wearer).replaceAll(' ', '_')}`,
  ];
  const { positions: p, uvs, normals: n, indices, groups } = form;
  for (let v = 0; v < p.length / 3; v++) lines.push(`v ${p[v * 3].toFixed(7)} ${p[v * 3 + 1].toFixed(7)} ${p[v * 3 + 2].toFixed(7)}`);
  // OBJ counts v upwards, glTF downwards
  for (let v = 0; v < uvs.length / 2; v++) lines.push(`vt ${uvs[v * 2].toFixed(6)} ${(1 - uvs[v * 2 + 1]).toFixed(6)}`);
  for (let v = 0; v < n.length / 3; v++) lines.push(`vn ${n[v * 3].toFixed(4)} ${n[v * 3 + 1].toFixed(4)} ${n[v * 3 + 2].toFixed(4)}`);
  for (const g of groups) {
    lines.push(`g ${g.name}`);
    for (let i = g.start; i < g.start + g.count; i += 3)
      lines.push(
        `f ${[0, 1, 2]
          .map((k) => indices[i + k] + 1)
          .map((v) => `${v}/${v}/${v}`)
          .join(' ')}`,
      );
  }
  return `${lines.join('\n')}\n`;
}

/** The same as a glTF of one mesh with two primitives. */
export function formDocument(form: Form, wearer: string): Document {
  const document = new Document();
  document.getRoot().getAsset().generator = 'Scaphos';
  const buffer = document.createBuffer();
  const list = (type: 'VEC2' | 'VEC3' | 'SCALAR', array: Float32Array | Uint32Array) =>
    document
      .createAccessor()
      .setType(type)
      .setArray(array.slice() as Float32Array<ArrayBuffer>)
      .setBuffer(buffer);
  const [position, normal, uv] = [list('VEC3', form.positions), list('VEC3', form.normals), list('VEC2', form.uvs)];
  const mesh = document.createMesh(formName(wearer));
  for (const g of form.groups) {
    const material = document
      .createMaterial(g.name)
      .setBaseColorFactor(g.name === 'form' ? [0.8, 0.74, 0.68, 1] : [0.92, 0.92, 0.9, 1])
      .setMetallicFactor(0)
      .setRoughnessFactor(0.8);
    const primitive: Primitive = document
      .createPrimitive()
      .setMaterial(material)
      .setAttribute('POSITION', position)
      .setAttribute('NORMAL', normal)
      .setAttribute('TEXCOORD_0', uv)
      .setIndices(list('SCALAR', form.indices.slice(g.start, g.start + g.count)));
    mesh.addPrimitive(primitive);
  }
  const scene = document.createScene(formName(wearer)).addChild(document.createNode(formName(wearer)).setMesh(mesh));
  document.getRoot().setDefaultScene(scene);
  return document;
}
