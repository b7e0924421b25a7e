/** A ring for a lip, from a formula: 11.2 mm broad, as somebody delivers it. */
import { Document, WebIO } from '@gltf-transform/core';
import { Euler, Matrix4, Quaternion, TorusGeometry, Vector3 } from 'three';

/** Millimetres: of its middle line, and of its wire. */
const ROUND = 5;
const WIRE = 0.6;
export const RING_BROAD_MM = 2 * (ROUND + WIRE);

export interface RingDelivery {
  /** Metres of the file to a millimetre. */
  unitPerMm: number;
  /** Quarter turns about side and up. */
  quarterPitch: number;
  quarterYaw: number;
  shiftMm: [number, number, number];
}

/** File from the ring as it was made: its middle at 0, its hole along Z; millimetres. */
export const ringDelivered = ({ unitPerMm: u, quarterPitch, quarterYaw, shiftMm }: RingDelivery): Matrix4 =>
  new Matrix4().compose(
    new Vector3(...shiftMm).multiplyScalar(u),
    new Quaternion().setFromEuler(new Euler((quarterPitch * Math.PI) / 2, (quarterYaw * Math.PI) / 2, 0)),
    new Vector3(u, u, u),
  );

export async function ringGlb(how: RingDelivery): Promise<Uint8Array> {
  const made = new TorusGeometry(ROUND, WIRE, 12, 48).applyMatrix4(ringDelivered(how));
  const document = new Document();
  const buffer = document.createBuffer();
  const accessor = (name: 'position' | 'normal') =>
    document
      .createAccessor()
      .setType('VEC3')
      .setArray(made.getAttribute(name).array as Float32Array<ArrayBuffer>)
      .setBuffer(buffer);
  const primitive = document
    .createPrimitive()
    .setAttribute('POSITION', accessor('position'))
    .setAttribute('NORMAL', accessor('normal'))
    .setIndices(
      document
        .createAccessor()
        .setArray(Uint16Array.from(made.getIndex()?.array ?? []))
        .setBuffer(buffer),
    )
    .setMaterial(document.createMaterial('Brass').setBaseColorFactor([0.72, 0.53, 0.2, 1]).setMetallicFactor(1).setRoughnessFactor(0.35));
  document.createScene('Ring').addChild(document.createNode('Ring').setMesh(document.createMesh('Ring').addPrimitive(primitive)));
  return new WebIO().writeBinary(document);
}
