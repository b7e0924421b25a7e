/** What every form is made from, kept in the browser under the version of the code that made it. */
import { openDB } from 'idb';
import { buildFormBase, FORM_VERSION, type FormBase } from '@/core/form';

async function load(): Promise<FormBase> {
  const db = await openDB('scaphos-form', 1, { upgrade: (d) => void d.createObjectStore('base') }).catch(() => null);
  const kept = await db?.get('base', FORM_VERSION).catch(() => undefined);
  if (kept) return kept as FormBase;
  const made = buildFormBase();
  await db?.clear('base').catch(() => undefined);
  await db?.put('base', made, FORM_VERSION).catch(() => undefined);
  return made;
}

let base: Promise<FormBase> | null = null;
export function formBase(): Promise<FormBase> {
  base ??= load();
  return base;
}
