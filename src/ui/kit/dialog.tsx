'use client';
import { lazily } from './lazily';
import type { NameFormProps } from './nameform';
import type { SheetProps } from './sheet';

const load = () => import('./sheet');
const Sheet = lazily(load, 'Sheet');
const loadNameForm = () => import('./nameform');
const NameForm = lazily(loadNameForm, 'NameForm');

/** Before one is needed: what a save that failed asks must not wait for the server. */
export const fetchDialogs = () => void Promise.all([load(), loadNameForm()]).catch(() => undefined);

/** A modal sheet. What it is made of comes with the first. */
export const Dialog = (props: SheetProps) => <Sheet {...props} />;

/** Asks for a name and calls back with it. */
export function NameDialog({ title, ...form }: { title: string } & NameFormProps) {
  return (
    <Dialog title={title} onClose={form.onClose}>
      <NameForm {...form} />
    </Dialog>
  );
}
