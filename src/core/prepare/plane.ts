/** Pictures and sequences as what they hang as: a textured plane in a glTF, upright in side and up, facing fore. */
import { Document, type Material, TextureInfo } from '@gltf-transform/core';
import { EXTTextureWebP, KHRMaterialsUnlit } from '@gltf-transform/extensions';
import type { AlphaKind } from '../intake/media/facts';
import type { PlaySettings } from '../piece/recipe';
import { framePlace, type SheetLayout } from './sheet';

export interface PlanePicture {
  bytes: Uint8Array;
  mime: string;
  alpha: AlphaKind;
}

const MODE = { none: 'OPAQUE', 'cut-out': 'MASK', soft: 'BLEND' } as const;

function quad(document: Document, material: Material, sizeM: [number, number], uv: [number, number, number, number]) {
  const buffer = document.getRoot().listBuffers()[0] ?? document.createBuffer();
  const [x, y] = [sizeM[0] / 2, sizeM[1] / 2];
  const [u0, v0, u1, v1] = uv;
  const list = (type: 'VEC2' | 'VEC3' | 'SCALAR', array: Float32Array<ArrayBuffer> | Uint16Array<ArrayBuffer>) =>
    document.createAccessor().setType(type).setArray(array).setBuffer(buffer);
  return document
    .createPrimitive()
    .setMaterial(material)
    .setAttribute('POSITION', list('VEC3', new Float32Array([-x, -y, 0, x, -y, 0, x, y, 0, -x, y, 0])))
    .setAttribute('NORMAL', list('VEC3', new Float32Array([0, 0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1])))
    .setAttribute('TEXCOORD_0', list('VEC2', new Float32Array([u0, v1, u1, v1, u1, v0, u0, v0])))
    .setIndices(list('SCALAR', new Uint16Array([0, 1, 2, 0, 2, 3])));
}

/** A picture shows its own colours in any light: unlit, seen from both sides. */
function paperOf(document: Document, name: string, picture: PlanePicture, filtered: boolean): Material {
  if (picture.mime === 'image/webp') document.createExtension(EXTTextureWebP).setRequired(true);
  const texture = document
    .createTexture(name)
    .setImage(picture.bytes as Uint8Array<ArrayBuffer>)
    .setMimeType(picture.mime);
  const material = document
    .createMaterial(name)
    .setBaseColorTexture(texture)
    .setAlphaMode(MODE[picture.alpha])
    .setDoubleSided(true)
    .setRoughnessFactor(1)
    .setMetallicFactor(0)
    .setExtension('KHR_materials_unlit', document.createExtension(KHRMaterialsUnlit).createUnlit());
  const clamp = TextureInfo.WrapMode.CLAMP_TO_EDGE;
  const info = material.getBaseColorTextureInfo()?.setWrapS(clamp).setWrapT(clamp).setMagFilter(TextureInfo.MagFilter.LINEAR);
  // smaller copies of a sheet would mix neighbouring frames
  info?.setMinFilter(filtered ? TextureInfo.MinFilter.LINEAR_MIPMAP_LINEAR : TextureInfo.MinFilter.LINEAR);
  return material;
}

/** @param sizeMm side and up */
export function picturePlane(name: string, picture: PlanePicture, sizeMm: readonly [number, number]): Document {
  const document = new Document();
  const material = paperOf(document, name, picture, true);
  const mesh = document.createMesh(name).addPrimitive(quad(document, material, [sizeMm[0] / 1000, sizeMm[1] / 1000], [0, 0, 1, 1]));
  const scene = document.createScene(name).addChild(document.createNode(name).setMesh(mesh));
  document.getRoot().setDefaultScene(scene);
  return document;
}

/**
 * A sequence as one clip of core glTF 2.0: a plane a frame, of which a stepped scale shows one at a time (section 3.5.3: a node
 * of scale zero is not drawn). Any viewer plays it.
 */
export function sequencePlane(
  name: string,
  picture: PlanePicture,
  layout: SheetLayout,
  count: number,
  { fps, loop }: PlaySettings,
  sizeMm: readonly [number, number],
): Document {
  const document = new Document();
  const buffer = document.createBuffer();
  const material = paperOf(document, name, picture, false);
  const root = document.createNode(name);
  const clip = document.createAnimation('play').setExtras(loop ? {} : { loop: false });
  const times = (list: number[]) => document.createAccessor().setType('SCALAR').setArray(new Float32Array(list)).setBuffer(buffer);
  const sizes = (list: number[]) =>
    document
      .createAccessor()
      .setType('VEC3')
      .setArray(new Float32Array(list.flatMap((s) => [s, s, s])))
      .setBuffer(buffer);
  const end = count / fps;
  for (let i = 0; i < count; i++) {
    const [px, py] = framePlace(layout, i);
    // half a pixel in from the frame's edge, so that a filter never reads the neighbour
    const uv: [number, number, number, number] = [
      (px + 0.5) / layout.width,
      (py + 0.5) / layout.height,
      (px + layout.frameWidth - 0.5) / layout.width,
      (py + layout.frameHeight - 0.5) / layout.height,
    ];
    const frame = `frame ${String(i + 1).padStart(String(count).length, '0')}`;
    const mesh = document.createMesh(frame).addPrimitive(quad(document, material, [sizeMm[0] / 1000, sizeMm[1] / 1000], uv));
    const node = document.createNode(frame).setMesh(mesh);
    root.addChild(node);
    if (count === 1) continue;
    // at rest the first frame shows
    node.setScale(i === 0 ? [1, 1, 1] : [0, 0, 0]);
    const last = i === count - 1;
    const keys: [number, number][] = [
      ...(i > 0 ? [[0, 0] as [number, number]] : []),
      [i / fps, 1],
      ...(last ? [] : [[(i + 1) / fps, 0] as [number, number]]),
      ...(i + 1 < count - 1 || last ? [[end, last ? 1 : 0] as [number, number]] : []),
    ];
    const unique = keys.filter(([t], k) => k === 0 || Math.fround(t) > Math.fround(keys[k - 1][0]));
    const sampler = document
      .createAnimationSampler()
      .setInput(times(unique.map(([t]) => t)))
      .setOutput(sizes(unique.map(([, s]) => s)))
      .setInterpolation('STEP');
    clip.addSampler(sampler).addChannel(document.createAnimationChannel().setTargetNode(node).setTargetPath('scale').setSampler(sampler));
  }
  if (count === 1) clip.dispose();
  document.getRoot().setDefaultScene(document.createScene(name).addChild(root));
  return document;
}
