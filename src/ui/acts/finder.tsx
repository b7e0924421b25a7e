'use client';
import { Command } from 'cmdk';
import { Children, type ReactNode, useLayoutEffect, useRef, useState } from 'react';
import { Dialog } from '../kit/dialog';
import { doAct, doingOf, heldActs, keyOf } from './acts';
import { ACTS, type ActId } from './catalog';
import { rank } from './rank';

const LIST =
  'max-h-[min(360px,50vh)] overflow-auto [&_[cmdk-item]]:flex [&_[cmdk-item]]:items-center [&_[cmdk-item]]:gap-2 [&_[cmdk-item]]:px-2 [&_[cmdk-item]]:py-1.5 [&_[cmdk-item]]:text-small [&_[cmdk-item]]:cursor-pointer [&_[data-selected=true]]:bg-[color:var(--brass-wash)] [&_[cmdk-group-heading]]:text-micro [&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:text-[color:var(--ink-2)]';

/** Typed before it was there, and whether that was all. */
interface Early {
  words: string;
  enter: boolean;
}
const SOON_MS = 50;

/** Find anything: every act that holds here, and what the screen adds. */
export function Finder({ takeEarly, onClose, children }: { takeEarly: () => Early; onClose: () => void; children: ReactNode }) {
  // those that held when it was opened: a dialog over them changes nothing
  const [acts] = useState(() => heldActs().filter((id) => !ACTS[id].unlisted));
  return (
    <Dialog title="Find anything" onClose={onClose}>
      <Command loop className="w-[min(480px,80vw)]" label="Find anything" filter={rank}>
        <Words takeEarly={takeEarly} />
        <Command.List className={LIST}>
          <Command.Empty className="px-2 py-2 text-small soft">Nothing of that name here.</Command.Empty>
          {Children.toArray(children)}
          <Command.Group heading="Acts">
            {acts.map((id) => (
              <ActItem key={id} id={id} onClose={onClose} />
            ))}
          </Command.Group>
        </Command.List>
      </Command>
    </Dialog>
  );
}

/** Takes over what was typed before it was there, as soon as it has the keyboard. */
function Words({ takeEarly }: { takeEarly: () => Early }) {
  const [words, setWords] = useState('');
  const latest = useRef(takeEarly);
  const field = useRef<HTMLInputElement>(null);
  useLayoutEffect(() => {
    const early = latest.current();
    setWords(early.words);
    // once what was typed has been looked for
    if (early.enter) setTimeout(() => field.current?.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true })), SOON_MS);
  }, []);
  return (
    <Command.Input
      ref={field}
      autoFocus
      className="field mb-2"
      placeholder="A step, file, finding, part, piece or act"
      value={words}
      onValueChange={setWords}
    />
  );
}

function ActItem({ id, onClose }: { id: ActId; onClose: () => void }) {
  const off = doingOf(id)?.off;
  const key = keyOf(id);
  return (
    <Command.Item
      value={`act ${ACTS[id].name}`}
      onSelect={() => {
        onClose();
        // once the dialog has given the focus back
        setTimeout(() => doAct(id));
      }}
    >
      <span className={`min-w-0 truncate ${off ? 'soft' : ''}`}>{ACTS[id].name}</span>
      {off && <span className="text-micro soft truncate">{off}</span>}
      {key && <span className="key ml-auto">{key}</span>}
    </Command.Item>
  );
}

/** Something to go to. `words`: what else it is found by. */
export function Found({
  id,
  words,
  mark,
  note,
  onSelect,
  children,
}: {
  id: string;
  words: string;
  mark?: ReactNode;
  note?: string;
  onSelect: () => void;
  children: ReactNode;
}) {
  return (
    <Command.Item value={`${words} ${id}`} onSelect={onSelect}>
      {mark}
      <span className="min-w-0 truncate">{children}</span>
      {note && <span className="text-micro soft ml-auto whitespace-nowrap pl-3">{note}</span>}
    </Command.Item>
  );
}

export function FoundGroup({ heading, children }: { heading: string; children: ReactNode }) {
  return Children.count(children) > 0 ? <Command.Group heading={heading}>{children}</Command.Group> : null;
}
