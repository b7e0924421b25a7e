/** What every form and every body is made from, kept in the browser under the version of the code that made it. */
import { openDB } from 'idb';
import { buildFormBase, FORM_VERSION, type FormBase } from '@/core/form';
import { BODY_VERSION, type BodyBase, buildBodyBase } from '@/core/form/body';
import { BAKED_BODY, readBaked } from '../baked';

/** @param name of what is kept @param version under which it holds; what is kept under another goes */
async function kept<T>(name: 'base' | 'body', version: string | number, make: () => T | Promise<T>): Promise<T> {
  const db = await openDB('scaphos-form', 2, {
    upgrade(d) {
      for (const store of ['base', 'body']) if (!d.objectStoreNames.contains(store)) d.createObjectStore(store);
    },
  }).catch(() => null);
  const there = await db?.get(name, version).catch(() => undefined);
  if (there) return there as T;
  const made = await make();
  await db?.clear(name).catch(() => undefined);
  await db?.put(name, made, version).catch(() => undefined);
  return made;
}

let base: Promise<FormBase> | null = null;
export function formBase(): Promise<FormBase> {
  base ??= kept('base', FORM_VERSION, buildFormBase);
  return base;
}

/** As the build made it: a second instead of several. */
async function bakedBody(): Promise<BodyBase> {
  const response = await fetch(new URL(`/baked/${BAKED_BODY}`, self.location.origin));
  if (!response.ok || !response.body) throw new Error(`the base body is not there: ${response.status}`);
  return readBaked(await new Response(response.body.pipeThrough(new DecompressionStream('gzip'))).text());
}

let body: Promise<BodyBase> | null = null;
export function bodyBase(): Promise<BodyBase> {
  body ??= kept('body', `${FORM_VERSION} ${BODY_VERSION}`, () => bakedBody().catch(async () => buildBodyBase(await formBase())));
  return body;
}
