/** What is read, beside three's own loader: triangles, clips and the box of what is drawn must be the same. */
import { readFileSync } from 'node:fs';
import { MeshoptDecoder } from 'meshoptimizer';
import { type Bone, Box3, type Mesh, Vector3 } from 'three';
import { type GLTF, GLTFLoader } from 'three/addons/loaders/GLTFLoader.js';
import { openGltf, type StockFacts } from '@/core/intake';
import { withJson } from '@/core/model/write';
import { unpackDocument } from '@/core/prepare';
import { nodeDraco } from '@/worker/node/codecs';
import { writeGlb } from '@/worker/node/glb';
import { runIntake } from '@/worker/node/intake';
import type { OutsideFile } from './files';

export interface ReadRow {
  name: string;
  /** null: it was read. */
  refused: string | null;
  /** What differs from the other reader, in words. */
  differs: string[];
  findings: { code: string; level: string }[];
  seconds: number;
}

/** The GLB without its materials: the other reader's pictures need a browser. */
function bare(glb: Uint8Array): ArrayBuffer {
  const { json } = openGltf(glb);
  for (const key of ['materials', 'textures', 'images', 'samplers']) delete json[key];
  for (const m of json.meshes ?? [])
    for (const p of (m.primitives ?? []) as { material?: number; extensions?: object }[]) delete p.material;
  const drop = (list?: string[]) => list?.filter((e) => !/^KHR_(materials|texture)|_texture_/.test(e));
  json.extensionsUsed = drop(json.extensionsUsed);
  json.extensionsRequired = drop(json.extensionsRequired);
  return withJson(glb, new TextEncoder().encode(JSON.stringify(json))).buffer;
}

interface Counts {
  triangles: number;
  clips: number;
  bones: number;
  sizeMm: number[];
}

async function theirs(bytes: Uint8Array): Promise<Counts> {
  await MeshoptDecoder.ready;
  // its Draco decoder is a page's: what is packed so is unpacked by the format's own library first
  const draco = openGltf(bytes).json.extensionsRequired?.includes('KHR_draco_mesh_compression');
  const plain = draco ? await writeGlb(await unpackDocument(bytes, await nodeDraco())) : bytes;
  const loader = new GLTFLoader();
  loader.setMeshoptDecoder(MeshoptDecoder);
  const gltf = await new Promise<GLTF>((resolve, reject) => loader.parse(bare(plain), '', resolve, reject));
  gltf.scene.updateMatrixWorld(true);
  let triangles = 0;
  const bones = new Set<Bone>();
  const box = new Box3();
  const v = new Vector3();
  gltf.scene.traverse((o) => {
    const mesh = o as Mesh & { skeleton?: { bones: Bone[] } };
    for (const b of mesh.skeleton?.bones ?? []) bones.add(b);
    if (!mesh.isMesh) return;
    const { index, attributes } = mesh.geometry;
    const count = index ? index.count : attributes.position.count;
    triangles += Math.floor(count / 3);
    for (let i = 0; i < count; i++) box.expandByPoint(mesh.getVertexPosition(index ? index.getX(i) : i, v).applyMatrix4(mesh.matrixWorld));
  });
  const size = box.isEmpty() ? [0, 0, 0] : box.getSize(v).toArray();
  return { triangles, clips: gltf.animations.length, bones: bones.size, sizeMm: size.map((x) => x * 1000) };
}

export async function readRow({ name, path }: OutsideFile): Promise<ReadRow> {
  const from = performance.now();
  const row: ReadRow = { name, refused: null, differs: [], findings: [], seconds: 0 };
  let facts: StockFacts | null = null;
  try {
    const { items } = await runIntake({ files: [{ name: name.replace('/', '-'), path }] });
    if (items[0].facts.kind === 'model') facts = items[0].facts;
    else row.refused = 'no model';
  } catch (e) {
    row.refused = (e as Error).message;
  }
  row.seconds = (performance.now() - from) / 1000;
  const other = await theirs(new Uint8Array(readFileSync(path))).catch((e: Error) => e);
  if (other instanceof Error) {
    if (!row.refused) row.differs.push(`the other reader refuses it: ${other.message.slice(0, 80)}`);
    return row;
  }
  if (!facts) return row;
  row.findings = facts.findings.map(({ code, level }) => ({ code, level }));
  if (facts.triangles !== other.triangles) row.differs.push(`${facts.triangles} triangles, there ${other.triangles}`);
  if (facts.clips.length !== other.clips) row.differs.push(`${facts.clips.length} clips, there ${other.clips}`);
  if (facts.bones !== other.bones) row.differs.push(`${facts.bones} bones, there ${other.bones}`);
  const most = Math.max(...other.sizeMm);
  const off = Math.max(...facts.sizeMm.map((x, i) => Math.abs(x - other.sizeMm[i])));
  if (off > Math.max(0.01, most * 1e-4))
    row.differs.push(`${facts.sizeMm.join(' × ')} mm, there ${other.sizeMm.map((x) => x.toFixed(3)).join(' × ')}`);
  return row;
}
