/** What goes before any search: it takes bytes and shows nothing. */
import type { Document } from '@gltf-transform/core';
import type { StepDraft } from '../../piece/recipe';
import type { Limits } from '../terms';
import { weighDocument } from '../weigh';

/** Steps for a document, in their order; materials, draw calls and bones are joined only where a limit asks for it. */
export function idleSteps(document: Document, limits: Limits): StepDraft[] {
  const root = document.getRoot();
  const steps: StepDraft[] = [];
  // packing spreads one such number over the whole shape
  if (hasStrayPlaces(document)) steps.push({ step: 'mend', settings: { ops: ['not-finite'] } });
  if (root.listTextures().length > 0) steps.push({ step: 'texture', settings: { ops: ['merge'], maxEdge: 16384 } });
  if (limits.materials !== null && root.listMaterials().length > limits.materials)
    steps.push({ step: 'merge', settings: { materials: true, meshes: false } });
  if (limits.drawCalls !== null && weighDocument(document, 0).drawCalls > limits.drawCalls)
    steps.push({ step: 'merge', settings: { materials: true, meshes: true } });
  steps.push({ step: 'prune', settings: {} });
  if (root.listSkins().length > 0) steps.push({ step: 'bones', settings: { dropUnused: true, fourInfluences: true, limit: limits.bones } });
  if (root.listAnimations().length > 0) steps.push({ step: 'clips', settings: { resample: true, dropConstant: true } });
  return steps;
}

/** Something is drawn at a place that is no number, or that is not there. */
const hasStrayPlaces = (document: Document): boolean =>
  document
    .getRoot()
    .listMeshes()
    .some((m) =>
      m.listPrimitives().some((p) => {
        const places = p.getAttribute('POSITION');
        const numbers = places?.getArray();
        if (!places || !numbers) return false;
        if (numbers instanceof Float32Array && !numbers.every(Number.isFinite)) return true;
        const count = places.getCount();
        const list: ArrayLike<number> = p.getIndices()?.getArray() ?? [];
        return Array.prototype.some.call(list, (v) => v >= count);
      }),
    );
