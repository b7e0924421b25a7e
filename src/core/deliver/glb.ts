/** The GLB package: visible parts, placed in the head frame under one root node per anchor. */
import { Document, Logger, type Material, type Mesh, type Node, PropertyType, type Scene, WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { dedup, mergeDocuments, prune, unpartition } from '@gltf-transform/functions';
import { wantedName } from '../intake/wanted';
import { offsetRotation } from '../math/offset';
import type { ModelPart, Piece } from '../piece/schema';
import { type DracoModules, PACKING_EXTENSIONS, packDocument, packingOf } from '../prepare/pack';
import { packageContents } from './contents';

/** Anchor → the name of its root node. */
export const ANCHOR_NODE_NAMES = { head: 'Head' } as const;

export class DeliverError extends Error {
  constructor(
    readonly code: 'deliver/empty' | 'deliver/stock-missing',
    message: string,
  ) {
    super(message);
  }
}

/**
 * Builds the package of a piece.
 * @param open gives a fresh Document of a stock file; it is consumed
 * @param draco asked for where a recipe wants its model packed with it
 * @throws {DeliverError} nothing to deliver, or a stock file that is not at hand.
 */
export async function packGlb(
  piece: Piece,
  open: (stockId: string) => Promise<Document>,
  draco: () => Promise<DracoModules>,
): Promise<Uint8Array> {
  const { parts } = packageContents(piece);
  if (parts.length === 0)
    throw new DeliverError('deliver/empty', 'There is nothing to deliver: no visible part hangs on an anchor. Hang a part in Fit first.');
  const target = new Document().setLogger(new Logger(Logger.Verbosity.SILENT));
  target.getRoot().getAsset().generator = 'Scaphos';
  const scene = target.createScene(piece.name);
  target.getRoot().setDefaultScene(scene);
  const anchor = target.createNode(ANCHOR_NODE_NAMES.head);
  scene.addChild(anchor);
  for (const part of parts) await addPart(target, scene, anchor, part, await open(part.stockId));
  for (const ext of target.getRoot().listExtensionsUsed()) if (PACKING_EXTENSIONS.has(ext.extensionName)) ext.dispose();
  // a stand-in for a picture that never came is no picture to publish
  for (const t of target.getRoot().listTextures()) if (wantedName(t) !== null) t.dispose();
  // parts of the same file share its pictures and shapes
  if (parts.length > 1) await target.transform(dedup({ propertyTypes: [PropertyType.ACCESSOR, PropertyType.TEXTURE] }));
  await target.transform(
    prune({
      propertyTypes: [PropertyType.ACCESSOR, PropertyType.BUFFER, PropertyType.MESH, PropertyType.SKIN],
      keepAttributes: true,
      keepIndices: true,
      keepLeaves: true,
      keepSolidTextures: true,
    }),
    unpartition(),
  );
  // one package is packed one way: as the first part that asks for it
  const packing = parts.map((p) => packingOf(piece.recipes[p.stockId]?.steps ?? [])).find((p) => p.method !== 'none');
  if (packing) return packDocument(target, packing, packing.method === 'draco' ? await draco() : null);
  return new WebIO().setLogger(new Logger(Logger.Verbosity.SILENT)).registerExtensions(ALL_EXTENSIONS).writeBinary(target);
}

async function addPart(target: Document, scene: Scene, anchor: Node, part: ModelPart, source: Document): Promise<void> {
  const root = source.getRoot();
  const drawn = root.getDefaultScene() ?? root.listScenes()[0];
  const map = mergeDocuments(target, source);
  const holder = target
    .createNode(part.name)
    .setTranslation(part.offset.positionM)
    .setRotation(offsetRotation(part.offset).toArray())
    .setScale(part.offset.size);
  anchor.addChild(holder);
  const copies = (list: { propertyType: string }[]) => list.map((p) => map.get(p as never)) as never[];
  for (const s of root.listScenes()) {
    const copy = map.get(s) as Scene;
    if (s === drawn) for (const n of copy.listChildren()) holder.addChild(n);
    copy.dispose();
  }
  liftSkinnedMeshes(target, scene, copies(root.listNodes()));
  if (part.solid) for (const m of copies(root.listMaterials()) as Material[]) m.setAlphaMode('OPAQUE').setAlpha(1);
  if (part.opacity < 1) for (const m of copies(root.listMaterials()) as Material[]) fade(m, part.opacity);
  if (part.opacity < 1) for (const m of copies(root.listMeshes()) as Mesh[]) fadeBareMesh(target, m, part.opacity);
}

/** Skinned meshes follow their joints, not their node: glTF wants their nodes at the root, where nothing moves them twice. */
function liftSkinnedMeshes(target: Document, scene: Scene, nodes: Node[]): void {
  for (const node of nodes) {
    const skin = node.getSkin();
    const mesh = node.getMesh();
    if (!skin || !mesh) continue;
    const lifted = target.createNode(node.getName()).setMesh(mesh).setSkin(skin).setWeights(node.getWeights());
    scene.addChild(lifted);
    for (const channel of target
      .getRoot()
      .listAnimations()
      .flatMap((a) => a.listChannels()))
      if (channel.getTargetNode() === node && channel.getTargetPath() === 'weights') channel.setTargetNode(lifted);
    node.setMesh(null).setSkin(null).setWeights([]);
  }
}

function fade(material: Material, opacity: number): void {
  if (material.getAlphaMode() === 'OPAQUE') material.setAlpha(1);
  material.setAlpha(material.getAlpha() * opacity).setAlphaMode('BLEND');
}

function fadeBareMesh(target: Document, mesh: Mesh, opacity: number): void {
  for (const p of mesh.listPrimitives())
    if (!p.getMaterial()) p.setMaterial(target.createMaterial().setAlpha(opacity).setAlphaMode('BLEND'));
}
