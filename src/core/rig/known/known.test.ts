import { readFileSync } from 'node:fs';
import { Document, type Node } from '@gltf-transform/core';
import { describe, expect, it } from 'vitest';
import { bvhDocument, readBvh } from '../../intake/media/bvh';
import { readModel } from '../../model';
import { HUMANOID_BONES, HUMANOID_PARENT, HUMANOID_SETS } from '../../words/humanoid';
import { knownSkeleton, tellBones, toldSkeleton } from '.';
import { readName } from './names';

const BVHS = ['01_01', '01_03', 'Boxing_Toes'].map((n) => `/usr/share/assimp/models/BVH/${n}.bvh`);
const bvh = (path: string) => readModel(bvhDocument(readBvh(readFileSync(path, 'utf8')), 'capture', 0.0254 / 0.45));

/** Where joints of a person of 1.7 m are, roughly: up, aside, fore. */
const AT: Readonly<Record<string, [number, number, number]>> = {
  hips: [0, 0.95, 0],
  spine: [0, 1.05, 0],
  chest: [0, 1.15, 0],
  upperChest: [0, 1.28, 0],
  neck: [0, 1.43, 0],
  head: [0, 1.52, 0],
  Shoulder: [0.03, 1.4, 0],
  UpperArm: [0.17, 1.4, 0],
  LowerArm: [0.45, 1.4, 0],
  Hand: [0.7, 1.4, 0],
  UpperLeg: [0.09, 0.9, 0],
  LowerLeg: [0.09, 0.5, 0],
  Foot: [0.09, 0.08, 0],
  Toes: [0.09, 0.02, 0.13],
};
const placeOf = (bone: string): [number, number, number] => {
  const side = /^(left|right)/.exec(bone)?.[1];
  const [x, y, z] = AT[side ? bone.slice(side.length) : bone];
  return [side === 'right' ? -x : x, y, z];
};

/** A skinned skeleton of these bones, called as asked, with joints of other kinds among them. */
function skeleton(
  bones: readonly string[],
  call: (bone: string, i: number) => string,
  extra?: (document: Document, node: Node, bone: string) => void,
) {
  const document = new Document();
  const skin = document.createSkin();
  const nodes = new Map<string, Node>();
  for (const [i, bone] of bones.entries()) {
    let parent = HUMANOID_PARENT[bone];
    while (parent && !nodes.has(parent)) parent = HUMANOID_PARENT[parent];
    const [x, y, z] = placeOf(bone);
    const [px, py, pz] = parent ? placeOf(parent) : [0, 0, 0];
    const node = document.createNode(call(bone, i)).setTranslation([x - px, y - py, z - pz]);
    nodes.set(bone, node);
    skin.addJoint(node);
    extra?.(document, node, bone);
    if (parent) nodes.get(parent)?.addChild(node);
  }
  const scene = document.createScene();
  scene.addChild(nodes.get('hips') as Node);
  const at = document.createAccessor().setType('VEC3').setArray(new Float32Array(9));
  const mesh = document.createMesh().addPrimitive(document.createPrimitive().setAttribute('POSITION', at));
  scene.addChild(document.createNode().setMesh(mesh).setSkin(skin));
  return { model: readModel(document), nodes, document };
}
const told = (s: ReturnType<typeof skeleton>) => {
  const { nodeOf } = knownSkeleton(s.model);
  const list = s.document.getRoot().listNodes();
  return Object.fromEntries([...nodeOf].map(([bone, node]) => [bone, [...s.nodes].find(([, n]) => n === list[node])?.[0]]));
};
const itself = (bones: readonly string[]) => Object.fromEntries(bones.map((b) => [b, b]));

describe('names', () => {
  it.each([
    ['upper_arm.L', 'left', 'upperarm'],
    ['LeftUpperArm', 'left', 'upperarm'],
    ['figure:l_upperarm', 'left', 'upperarm'],
    ['LHipJoint', 'left', 'hip'],
    ['rightforearm', 'right', 'forearm'],
    ['R Thigh 01', 'right', 'thigh'],
    ['Spine1', null, 'spine'],
    ['DEF-shin.R', 'right', 'shin'],
  ])('%s is read as %s %s', (name, side, word) => {
    expect(readName(name)).toEqual({ side, word });
  });
});

const HABITS: Readonly<Record<string, (bone: string) => string>> = {
  'words with a side behind': (b) => {
    const side = b.startsWith('left') ? '.L' : b.startsWith('right') ? '.R' : '';
    const word = { UpperArm: 'upper_arm', LowerArm: 'forearm', UpperLeg: 'thigh', LowerLeg: 'shin', Toes: 'toe' }[
      b.replace(/^(left|right)/, '')
    ];
    return `${word ?? b.replace(/^(left|right)/, '').toLowerCase()}${side}`;
  },
  'arm and leg for two each': (b) => {
    const side = b.startsWith('left') ? 'Left' : b.startsWith('right') ? 'Right' : '';
    const word = { UpperArm: 'Arm', LowerArm: 'ForeArm', UpperLeg: 'UpLeg', LowerLeg: 'Leg', Toes: 'ToeBase' }[
      b.replace(/^(left|right)/, '')
    ];
    const line = { spine: 'Spine', chest: 'Spine1', upperChest: 'Spine2' }[b];
    return `rig:${side}${word ?? line ?? b.replace(/^(left|right)/, '')}`;
  },
  'joints instead of bones': (b) => {
    const side = b.startsWith('left') ? 'l_' : b.startsWith('right') ? 'r_' : '';
    const part = b.replace(/^(left|right)/, '');
    const word = {
      Shoulder: 'collar',
      UpperArm: 'shoulder',
      LowerArm: 'elbow',
      Hand: 'wrist',
      UpperLeg: 'hip',
      LowerLeg: 'knee',
      Foot: 'ankle',
    }[part];
    return side + (word ?? { hips: 'pelvis', spine: 'abdomen', chest: 'back', upperChest: 'thorax' }[part] ?? part.toLowerCase());
  },
  // from memory
  'H-Anim, ISO/IEC 19774': (b) => {
    const side = b.startsWith('left') ? 'l_' : b.startsWith('right') ? 'r_' : '';
    const part = b.replace(/^(left|right)/, '');
    const word = {
      hips: 'sacroiliac', spine: 'vl5', chest: 'vt12', upperChest: 'vt1', neck: 'vc4', head: 'skull', Shoulder: 'sternoclavicular',
      UpperArm: 'shoulder', LowerArm: 'elbow', Hand: 'radiocarpal', UpperLeg: 'hip', LowerLeg: 'knee', Foot: 'talocrural', Toes: 'metatarsophalangeal',
    }[part]; // biome-ignore format: pairs
    return side + word;
  },
};

describe('a skeleton of a file', () => {
  it.each(Object.keys(HABITS))('is known by names: %s', (habit) => {
    const bones = HUMANOID_SETS[22];
    expect(told(skeleton(bones, HABITS[habit]))).toEqual(itself(bones));
    expect(knownSkeleton(skeleton(bones, HABITS[habit]).model).by).toBe('names');
  });
  it.each([22, 17] as const)('of %i bones is known by its tree where names say nothing, in any turn', (detail) => {
    const bones = HUMANOID_SETS[detail];
    const made = skeleton(bones, (_, i) => `node ${(i * 7) % bones.length}`);
    expect(told(made)).toEqual(itself(bones));
    expect(knownSkeleton(made.model).by).toBe('tree');
    if (detail === 17) return;
    made.nodes.get('hips')?.setRotation([0, 1, 0, 0]);
    made.model = readModel(made.document);
    // its left is still its left: toes say what is fore
    expect(told(made)).toEqual(itself(bones));
  });
  it('what is no bone of a figure is left over: twists, tails, a hair between neck and head', () => {
    const made = skeleton(HUMANOID_SETS[22], HABITS['arm and leg for two each'], (document, node, bone) => {
      for (const [of, name] of [['leftUpperArm', 'LeftArmTwist'], ['hips', 'Tail'], ['head', 'Jaw']]) // biome-ignore format: pairs
        if (of === bone) node.addChild(document.createNode(name));
    });
    expect(told(made)).toEqual(itself(HUMANOID_SETS[22]));
    const { others } = knownSkeleton(made.model);
    expect(others.map((n) => made.model.nodes[n].name).sort()).toEqual(['Jaw', 'LeftArmTwist', 'Tail']);
  });
  it.each(BVHS)('%s, which nobody here made, is known by its names, left on its left', (path) => {
    const model = bvh(path);
    const { nodeOf, by } = knownSkeleton(model);
    expect(by).toBe('names');
    const name = (bone: string) => model.nodes[nodeOf.get(bone) as number].name.toLowerCase();
    for (const bone of HUMANOID_BONES.filter((b) => /Arm|Hand|Leg|Foot/.test(b)))
      expect(name(bone)).toContain(bone.startsWith('left') ? 'l' : 'r');
    expect(name('hips')).toMatch(/hip/);
    expect(name('head')).toMatch(/head/);
  });
  it.each(BVHS)('%s is known the same without its names', (path) => {
    const model = bvh(path);
    const named = knownSkeleton(model).nodeOf;
    for (const n of model.nodes) n.name = '';
    const { nodeOf, by } = knownSkeleton(model);
    expect(by).toBe('tree');
    for (const bone of HUMANOID_SETS[17].filter((b) => /hips|Arm|Hand|Leg|Foot/.test(b)))
      expect(nodeOf.get(bone), bone).toBe(named.get(bone));
  });
  it('what is said by hand comes before names and places', () => {
    // a twist between elbow and wrist has the hand's plain name
    const made = skeleton(HUMANOID_SETS[22], HABITS['words with a side behind']);
    const node = (bone: string) => made.nodes.get(bone) as Node;
    node('leftHand').setName('zz');
    const nub = made.document.createNode('hand.L');
    node('leftLowerArm').addChild(nub);
    made.document.getRoot().listSkins()[0].addJoint(nub);
    made.model = readModel(made.document);
    expect(told(made).leftHand).toBeUndefined();
    expect(tellBones(made.document, { zz: 'leftHand', 'hand.L': null, 'not there': 'hips' })).toEqual(['not there']);
    made.model = readModel(made.document);
    expect(told(made)).toEqual(itself(HUMANOID_SETS[22]));
    expect(knownSkeleton(made.model).others.map((n) => made.model.nodes[n].name)).toEqual(['hand.L']);
  });
  it('what is missing is told; said to be none, a bone is', () => {
    const made = skeleton(HUMANOID_SETS[22], HABITS['words with a side behind']);
    expect(toldSkeleton(made.model).missing).toEqual([]);
    tellBones(made.document, { 'hand.L': null });
    made.model = readModel(made.document);
    // its place says nothing against what was said
    expect(toldSkeleton(made.model).missing).toEqual(['leftHand']);
    expect(() => knownSkeleton(made.model)).toThrow(/no leftHand.*say which bone is which/);
  });
  it('a beast is none', () => {
    const beast = skeleton(['hips', 'spine', 'neck', 'head'], (b) => b);
    expect(() => knownSkeleton(beast.model)).toThrow(/no leftUpperArm, leftLowerArm, leftHand/);
  });
});
