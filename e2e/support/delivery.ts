/** A shape from a formula as somebody delivers it: in a unit, turned and moved off its origin. */
import { Document, WebIO } from '@gltf-transform/core';
import { type BufferGeometry, Euler, Matrix4, Quaternion, Vector3 } from 'three';

export interface Delivery {
  /** Metres of the file to a millimetre. */
  unitPerMm: number;
  /** Quarter turns about side and up. */
  quarterPitch: number;
  quarterYaw: number;
  shiftMm: [number, number, number];
}

/** @param pick draws a whole number below another */
export const drawnDelivery = (pick: (n: number) => number): Delivery => ({
  unitPerMm: [1, 0.1, 1 / 25.4, 0.001][pick(4)],
  quarterPitch: pick(4),
  quarterYaw: pick(4),
  shiftMm: [pick(80) - 40, pick(80) - 40, pick(80) - 40],
});

/** File from the thing as it was made, in millimetres. */
export const deliveredAs = ({ unitPerMm: u, quarterPitch, quarterYaw, shiftMm }: Delivery): Matrix4 =>
  new Matrix4().compose(
    new Vector3(...shiftMm).multiplyScalar(u),
    new Quaternion().setFromEuler(new Euler((quarterPitch * Math.PI) / 2, (quarterYaw * Math.PI) / 2, 0)),
    new Vector3(u, u, u),
  );

/** @param shapes millimetres, moved as they are delivered */
export async function deliveredGlb(
  name: string,
  shapes: readonly BufferGeometry[],
  look: { colour: [number, number, number]; metallic: number; roughness: number },
  how: Delivery,
): Promise<Uint8Array> {
  const document = new Document();
  const buffer = document.createBuffer();
  const [r, g, b] = look.colour;
  const material = document
    .createMaterial(name)
    .setBaseColorFactor([r, g, b, 1])
    .setMetallicFactor(look.metallic)
    .setRoughnessFactor(look.roughness);
  const mesh = document.createMesh(name);
  for (const shape of shapes) {
    const made = shape.applyMatrix4(deliveredAs(how));
    const accessor = (of: 'position' | 'normal') =>
      document
        .createAccessor()
        .setType('VEC3')
        .setArray(made.getAttribute(of).array as Float32Array<ArrayBuffer>)
        .setBuffer(buffer);
    const indices = document
      .createAccessor()
      .setArray(Uint16Array.from(made.getIndex()?.array ?? []))
      .setBuffer(buffer);
    mesh.addPrimitive(
      document
        .createPrimitive()
        .setAttribute('POSITION', accessor('position'))
        .setAttribute('NORMAL', accessor('normal'))
        .setIndices(indices)
        .setMaterial(material),
    );
  }
  document.createScene(name).addChild(document.createNode(name).setMesh(mesh));
  return new WebIO().writeBinary(document);
}
