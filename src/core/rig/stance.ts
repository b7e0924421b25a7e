/**
 * Another rest pose for a figure's arms: the nodes of its bones are turned, its shape is bent along and bound anew, so that at rest it stands
 * so. Clips stay as they are: they say how bones are turned, not by how much. (glTF 2.0, section 3.7.3.3: joint matrix times inverse bind.)
 */
import type { Accessor, Document, Node, Primitive, Skin } from '@gltf-transform/core';
import { Matrix3, Matrix4, type Quaternion, Vector3 } from 'three';
import { type Model, nodeMatrices, readModel, restPose } from '../model';
import { REST_STANCES, type RestStance } from '../words/stances';
import { movedFigure } from './motion/figure';

const OF_ARMS = /Shoulder|Arm|Hand|Thumb|Index|Middle|Ring|Little/;

/** @throws {RigError} `rig/no-figure` it has no figure's bones */
export function restIn(document: Document, rest: RestStance): void {
  const model = readModel(document);
  const turns = armTurns(model, rest);
  const nodes = document.getRoot().listNodes();
  const pose = restPose(model);
  for (const [n, q] of turns) pose.trs.set(q.toArray(), n * 10 + 3);
  const after = nodeMatrices(model, pose);
  rebind(document, nodes, after);
  for (const [n, q] of turns) nodes[n].setRotation([q.x, q.y, q.z, q.w]);
}

/** Turns of the arms' nodes in their parents. */
function armTurns(model: Model, rest: RestStance): Map<number, Quaternion> {
  const figure = movedFigure(model);
  const { turns } = figure.apply(figure.stanceIn({ both: { leftUpperArm: [['z', -REST_STANCES[rest]]] } }));
  const arms = new Set(figure.bones.filter((b) => OF_ARMS.test(b.name)).map((b) => b.node));
  return new Map([...turns].filter(([n]) => arms.has(n)));
}

/** Bends what hangs on joints from where they were to where they are, and binds it there. */
function rebind(document: Document, nodes: readonly Node[], after: readonly Matrix4[]): void {
  const buffer = document.getRoot().listBuffers()[0] ?? document.createBuffer();
  const at = new Map(nodes.map((n, i) => [n, i]));
  const skinned = apartBySkin(nodes);
  for (const [p, skin] of skinned) {
    const inverse = skin.getInverseBindMatrices();
    // where the file says nothing its shape is in the joints' own space (3.7.3.3)
    const bind = skin.listJoints().map((_, i) => (inverse ? new Matrix4().fromArray(inverse.getElement(i, [])) : new Matrix4()));
    bend(
      document,
      buffer,
      p,
      skin.listJoints().map((joint, i) => after[at.get(joint) ?? 0].clone().multiply(bind[i])),
    );
  }
  for (const skin of document.getRoot().listSkins()) {
    const joints = skin.listJoints();
    const bound = new Float32Array(joints.length * 16);
    joints.forEach((j, i) => {
      after[at.get(j) ?? 0]
        .clone()
        .invert()
        .toArray(bound, i * 16);
    });
    skin.setInverseBindMatrices(document.createAccessor().setType('MAT4').setArray(bound).setBuffer(buffer));
  }
}

/** Primitives and the skin they bend by; what two skins draw becomes one each. */
function apartBySkin(nodes: readonly Node[]): Map<Primitive, Skin> {
  const out = new Map<Primitive, Skin>();
  for (const node of nodes) {
    const [skin, given] = [node.getSkin(), node.getMesh()];
    if (!skin || !given) continue;
    let mesh = given;
    if (given.listPrimitives().some((p) => out.has(p) && out.get(p) !== skin)) {
      mesh = given.clone();
      for (const p of mesh.listPrimitives()) mesh.removePrimitive(p).addPrimitive(p.clone());
      node.setMesh(mesh);
    }
    for (const p of mesh.listPrimitives()) out.set(p, skin);
  }
  return out;
}

function bend(document: Document, buffer: ReturnType<Document['createBuffer']>, p: Primitive, palette: readonly Matrix4[]): void {
  const sets = [0, 1, 2, 3].flatMap((s) => {
    const [j, w] = [p.getAttribute(`JOINTS_${s}`), p.getAttribute(`WEIGHTS_${s}`)];
    return j && w ? [[j, w] as const] : [];
  });
  const position = p.getAttribute('POSITION');
  if (sets.length === 0 || !position) return;
  const count = position.getCount();
  const blends: Matrix4[] = [];
  const [joint, share]: number[][] = [[], []];
  for (let v = 0; v < count; v++) {
    const m = new Matrix4().multiplyScalar(0);
    let sum = 0;
    for (const [j, w] of sets) {
      j.getElement(v, joint);
      w.getElement(v, share);
      for (let k = 0; k < 4; k++) {
        const e = palette[joint[k]]?.elements;
        if (!share[k] || !e) continue;
        sum += share[k];
        for (let i = 0; i < 16; i++) m.elements[i] += share[k] * e[i];
      }
    }
    blends.push(sum > 0 ? m.multiplyScalar(1 / sum) : new Matrix4());
  }
  const put = (
    semantic: string,
    target: { getAttribute(s: string): Accessor | null; setAttribute(s: string, a: Accessor): unknown },
    kind: 'place' | 'way' | 'normal',
  ) => {
    const given = target.getAttribute(semantic);
    if (!given) return;
    const size = given.getElementSize();
    const out = new Float32Array(count * size);
    const [v, el, n3] = [new Vector3(), [] as number[], new Matrix3()];
    for (let i = 0; i < count; i++) {
      given.getElement(i, el);
      v.set(el[0], el[1], el[2]);
      if (kind === 'place') v.applyMatrix4(blends[i]);
      else if (kind === 'normal') v.applyMatrix3(n3.getNormalMatrix(blends[i])).normalize();
      else v.applyMatrix3(n3.setFromMatrix4(blends[i]));
      if (kind === 'way' && size === 4) v.normalize();
      out.set([v.x, v.y, v.z, ...el.slice(3, size)], i * size);
    }
    target.setAttribute(semantic, document.createAccessor(given.getName()).setType(given.getType()).setArray(out).setBuffer(buffer));
  };
  put('POSITION', p, 'place');
  put('NORMAL', p, 'normal');
  put('TANGENT', p, 'way');
  for (const t of p.listTargets()) for (const s of ['POSITION', 'NORMAL', 'TANGENT']) put(s, t, 'way');
}
