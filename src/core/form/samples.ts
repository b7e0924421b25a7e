/** The bases for tests: computed once a process. */
import { buildFormBase, type FormBase } from '.';
import { type BodyBase, buildBodyBase } from './body';

let head: FormBase | undefined;
let body: BodyBase | undefined;

export function formBase(): FormBase {
  head ??= buildFormBase();
  return head;
}

export function bodyBase(): BodyBase {
  body ??= buildBodyBase(formBase());
  return body;
}
