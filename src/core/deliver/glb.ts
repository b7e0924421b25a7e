/** The GLB package: visible parts, placed in the head frame under one root node per anchor. */
import {
  Document,
  Logger,
  type Material,
  type Mesh,
  type Node,
  Primitive,
  PropertyType,
  type Scene,
  type Texture,
  WebIO,
} from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { dedup, mergeDocuments, prune, unpartition } from '@gltf-transform/functions';
import { Quaternion, Vector3 } from 'three';
import type { RestFrames } from '../fit/acts';
import { bodyRest } from '../form/body/rests';
import { wantedName } from '../intake/wanted';
import { offsetRotation } from '../math/offset';
import { trianglesWithout } from '../model/without';
import { writeBinary } from '../model/write';
import {
  type Anchor,
  anchorKey,
  anchorLabel,
  followAll,
  isWorn,
  MAIN_LAYER_ID,
  type Part,
  type PartKind,
  type PartOf,
  SOLID_LOOK,
} from '../parts';
import { solidMesh } from '../parts/solidmesh';
import { shownBody } from '../piece/cast';
import { colourwaysOf, wearingIn } from '../piece/colourways';
import type { Piece } from '../piece/schema';
import { stockOf } from '../piece/selectors';
import { sameValue } from '../piece/table';
import { type DracoModules, PACKING_EXTENSIONS, packDocument, packingOf } from '../prepare/pack';
import { type Assets, compile, restFramesOf } from '../run/show';
import { areaOf } from '../words/humanoid';
import { packageContents } from './contents';
import { Dresser } from './dresser';
import { sceneExtras } from './extras';
import { isSurface } from './finishes';

/** Where the body a piece is worn on has its own frame: its floor. */
const BODY_NODE = 'Body';

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
 * @param forms the form shown, where something hangs on the face (`hasFace`)
 * @throws {DeliverError} nothing to deliver, or a stock file that is not at hand.
 */
export async function packGlb(
  piece: Piece,
  open: (stockId: string) => Promise<Document>,
  draco: () => Promise<DracoModules>,
  forms: Assets['forms'] = {},
): Promise<Uint8Array> {
  const { parts } = packageContents(piece);
  if (parts.length === 0)
    throw new DeliverError('deliver/empty', 'There is nothing to deliver: no visible part hangs on an anchor. Hang a part in Fit first.');
  const target = new Document().setLogger(new Logger(Logger.Verbosity.SILENT));
  target.getRoot().getAsset().generator = 'Scaphos';
  const scene = target.createScene(piece.settings.name);
  target.getRoot().setDefaultScene(scene);
  const lit = sceneExtras(piece);
  if (lit) scene.setExtras({ scaphos: lit });
  const packing = new Packing(target, scene, piece, restFramesOf(compile(piece, { models: {}, forms })));
  await packing.openPictures(parts, open);
  for (const part of parentsFirst(parts)) await PACKERS[part.kind](packing, packing.holder(part), part as never, open);
  packing.dresser.tidy();
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
  const asked = parts.map((p) => packingOf(piece.recipes[stockOf(p) ?? '']?.steps ?? [])).find((p) => p.method !== 'none');
  if (asked) return packDocument(target, asked, asked.method === 'draco' ? await draco() : null);
  return writeBinary(new WebIO().setLogger(new Logger(Logger.Verbosity.SILENT)).registerExtensions(ALL_EXTENSIONS), target);
}

/** Parts that others hang from before those. */
function parentsFirst(parts: readonly Part[]): Part[] {
  const byId = new Map(parts.map((p) => [p.id, p]));
  const out = new Set<Part>();
  const put = (p: Part) => {
    if (p.hang?.on === 'part') put(byId.get(p.hang.part) as Part);
    out.add(p);
  };
  parts.forEach(put);
  return [...out];
}

/** The document under way: root nodes of anchors, holders of parts, nodes of their models by name. */
class Packing {
  private readonly anchors = new Map<string, Node>();
  private readonly holders = new Map<string, Node>();
  /** Nodes of a part's model by name: what can hang from a bone asks here. */
  readonly bones = new Map<string, Map<string, Node>>();
  private look: Material | null = null;
  private readonly pictures = new Map<string, Texture>();
  readonly dresser: Dresser;

  constructor(
    readonly target: Document,
    readonly scene: Scene,
    readonly piece: Piece,
    private readonly rest: RestFrames,
  ) {
    this.dresser = new Dresser(target, piece, (id) => this.pictures.get(id) as Texture);
  }

  private anchor(anchor: Anchor, worn: boolean): Node {
    const key = worn ? BODY_NODE : anchorKey(anchor);
    let node = this.anchors.get(key);
    if (!node) {
      node = this.target.createNode(worn ? BODY_NODE : anchorLabel(anchor));
      // a viewer that knows no wearer shows the piece as it hangs on a form at rest
      if (worn) {
        const [x, y, z] = bodyRest(shownBody(this.piece)).headOffsetM;
        node.setTranslation([-x, -y, -z]);
      } else {
        const [at, turn] = [new Vector3(), new Quaternion()];
        this.rest.of({ on: 'anchor', anchor }).decompose(at, turn, new Vector3());
        node.setTranslation(at.toArray()).setRotation(turn.toArray());
      }
      this.scene.addChild(node);
      this.anchors.set(key, node);
    }
    return node;
  }

  /** The node that places a part where it hangs. */
  holder(part: Part): Node {
    const node = this.target
      .createNode(part.name)
      .setTranslation(part.offset.positionM)
      .setRotation(offsetRotation(part.offset).toArray())
      .setScale(part.offset.size);
    const said = {
      ...(sameValue(part.follow, followAll()) ? {} : { follow: part.follow }),
      ...(part.layer === MAIN_LAYER_ID ? {} : { layer: part.layer }),
      ...('worn' in part && part.worn ? { worn: part.worn } : {}),
    };
    if (Object.keys(said).length > 0) node.setExtras({ scaphos: said });
    const { hang } = part;
    if (hang?.on === 'part') {
      const bone = hang.bone === undefined ? undefined : this.bones.get(hang.part)?.get(hang.bone);
      (bone ?? (this.holders.get(hang.part) as Node)).addChild(node);
    } else if (hang) this.anchor(hang.anchor, isWorn(part)).addChild(node);
    this.holders.set(part.id, node);
    return node;
  }

  /** Pictures that maps of finishes name, each once. */
  async openPictures(parts: readonly Part[], open: Open): Promise<void> {
    const ways = [null, ...colourwaysOf(this.piece)];
    const worn = new Set(parts.flatMap((p) => ways.flatMap((c) => Object.values(wearingIn(p, c)))).filter((id) => id !== null));
    for (const id of worn)
      for (const map of Object.values(this.piece.finishes[id].maps)) {
        if (!map || map === 'own' || this.pictures.has(map.stock)) continue;
        const [source] = (await open(map.stock)).getRoot().listTextures();
        const { name } = this.piece.stock[map.stock];
        const picture = this.target.createTexture(name).setMimeType(source.getMimeType());
        this.pictures.set(map.stock, picture.setImage(source.getImage() as Uint8Array<ArrayBuffer>));
      }
  }

  /** What a solid looks like that wears nothing. */
  solidLook(): Material {
    this.look ??= this.target
      .createMaterial('Solid')
      .setBaseColorFactor([...SOLID_LOOK.colour, 1])
      .setRoughnessFactor(SOLID_LOOK.roughness)
      .setMetallicFactor(0);
    return this.look;
  }
}

type Open = (stockId: string) => Promise<Document>;
/** What each kind of part becomes under its holder. What is in no GLB never comes here. */
const PACKERS: { readonly [K in PartKind]: (packing: Packing, holder: Node, part: PartOf<K>, open: Open) => Promise<void> | void } = {
  model: async (packing, holder, part, open) => addModel(packing, holder, part, await open(part.stock)),
  solid: addSolid,
  group: () => undefined,
  occluder: () => undefined,
  screen: () => undefined,
  patch: () => undefined,
  face: () => undefined,
};

function addSolid(packing: Packing, holder: Node, part: PartOf<'solid'>): void {
  const { target } = packing;
  const { positions, normals, uvs, indices } = solidMesh(part.shape);
  const buffer = target.getRoot().listBuffers()[0] ?? target.createBuffer();
  const accessor = (type: 'VEC3' | 'VEC2' | 'SCALAR', array: Float32Array | Uint32Array) =>
    target
      .createAccessor()
      .setType(type)
      .setArray(array as Float32Array<ArrayBuffer>)
      .setBuffer(buffer);
  const primitive = target
    .createPrimitive()
    .setAttribute('POSITION', accessor('VEC3', positions))
    .setAttribute('NORMAL', accessor('VEC3', normals))
    .setAttribute('TEXCOORD_0', accessor('VEC2', uvs))
    .setIndices(accessor('SCALAR', indices.length < 65_536 ? (Uint16Array.from(indices) as never) : indices));
  const mesh = target.createMesh(part.name).addPrimitive(primitive);
  packing.dresser.dress(part, [], [mesh], () => packing.solidLook());
  holder.setMesh(mesh);
}

function addModel(packing: Packing, holder: Node, part: PartOf<'model'>, source: Document): void {
  const { target, scene, bones } = packing;
  const root = source.getRoot();
  const drawn = root.getDefaultScene() ?? root.listScenes()[0];
  const map = mergeDocuments(target, source);
  const copies = (list: { propertyType: string }[]) => list.map((p) => map.get(p as never)) as never[];
  const nodes = copies(root.listNodes()) as Node[];
  bones.set(part.id, new Map(nodes.map((n) => [n.getName(), n])));
  for (const s of root.listScenes()) {
    const copy = map.get(s) as Scene;
    if (s === drawn) for (const n of copy.listChildren()) holder.addChild(n);
    copy.dispose();
  }
  if (part.worn && part.worn.hides.length > 0) leaveOut(target, nodes, part.worn);
  liftSkinnedMeshes(target, scene, nodes);
  const meshes = copies(root.listMeshes()) as Mesh[];
  const materials = packing.dresser.dress(part, copies(root.listMaterials()) as Material[], meshes);
  // what is no surface stays unseen
  if (part.solid) for (const m of materials) if (isSurface(m)) m.setAlphaMode('OPAQUE').setAlpha(1);
  if (part.opacity < 1) for (const m of materials) fade(m, part.opacity);
  if (part.opacity < 1) for (const m of meshes) fadeBareMesh(target, m, part.opacity);
}

/** Takes the triangles out that a garment does not show. */
function leaveOut(target: Document, nodes: readonly Node[], { bones, hides }: NonNullable<PartOf<'model'>['worn']>): void {
  const hidden = (node: Node | null): boolean => {
    for (let at = node; at; at = at.getParentNode()) {
      const bone = bones[at.getName()];
      if (bone !== undefined) return hides.includes(areaOf(bone));
    }
    return false;
  };
  for (const node of nodes) {
    const joints = node.getSkin()?.listJoints().map(hidden);
    const mesh = node.getMesh();
    if (!joints || !mesh || !joints.includes(true)) continue;
    for (const p of mesh.listPrimitives()) {
      const [on, shares, places] = ['JOINTS_0', 'WEIGHTS_0', 'POSITION'].map((name) => p.getAttribute(name));
      if (!on || !shares || !places || p.getMode() !== Primitive.Mode.TRIANGLES) continue;
      const all = p.getIndices()?.getArray() ?? Uint32Array.from({ length: places.getCount() }, (_, i) => i);
      // shares may be kept as whole numbers: only their proportion counts
      const kept = trianglesWithout(all, on.getArray() ?? [], shares.getArray() ?? [], 4, (j) => joints[j]);
      if (kept.length === 0) p.dispose();
      else
        p.setIndices(
          target
            .createAccessor()
            .setType('SCALAR')
            .setArray(places.getCount() < 65_536 ? Uint16Array.from(kept) : kept)
            .setBuffer(places.getBuffer()),
        );
    }
    if (mesh.listPrimitives().length === 0) node.setMesh(null).setSkin(null);
  }
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
