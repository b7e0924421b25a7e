/** The browser's computing thread: forms and models. Nothing here touches the page. */
import { expose } from 'comlink';
import { openDB } from 'idb';
import { MeshoptDecoder } from 'meshoptimizer';
import { buildFormBase, FORM_VERSION, type Form, type FormBase, type FormSize, makeForm } from '@/core/form';
import { createGltfIo, type Model, readModel } from '@/core/intake';

let base: Promise<FormBase> | null = null;

/** The base is kept in the browser under the version of the code that made it. */
async function loadBase(): Promise<FormBase> {
  const db = await openDB('scaphos-form', 1, { upgrade: (d) => void d.createObjectStore('base') }).catch(() => null);
  const kept = await db?.get('base', FORM_VERSION).catch(() => undefined);
  if (kept) return kept as FormBase;
  const made = buildFormBase();
  await db?.clear('base').catch(() => undefined);
  await db?.put('base', made, FORM_VERSION).catch(() => undefined);
  return made;
}

const computing = {
  async makeForm(size: FormSize): Promise<Form> {
    base ??= loadBase();
    return makeForm(await base, size);
  },
  async readModel(glb: Uint8Array): Promise<Model> {
    await MeshoptDecoder.ready;
    return readModel(await createGltfIo({ meshopt: MeshoptDecoder }).readBinary(glb as Uint8Array<ArrayBuffer>));
  },
};
export type Computing = typeof computing;
expose(computing);
