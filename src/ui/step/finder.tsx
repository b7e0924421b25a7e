'use client';
import { Command } from 'cmdk';
import { PART_MARKS } from '../fit/kinds';
import { Dialog, Mark, switchTheme, useGo } from '../kit';
import { useDocument, usePiece } from '../piece/context';
import { STEP_NAMES, STEPS } from './steps';

/** Find anything: steps, parts and plain acts, by keyboard. */
export function Finder({ onClose }: { onClose: () => void }) {
  const go = useGo();
  const doc = useDocument();
  const id = usePiece((s) => s.id);
  const yard = usePiece((s) => s.yard);
  const select = usePiece((s) => s.select);
  const undo = usePiece((s) => s.undo);
  const redo = usePiece((s) => s.redo);
  const run = (act: () => void) => () => {
    act();
    onClose();
  };
  return (
    <Dialog title="Find anything" onClose={onClose}>
      <Command loop className="w-[440px]">
        <Command.Input autoFocus className="field mb-2" placeholder="A step, a part, an act" />
        <Command.List className="max-h-[320px] overflow-auto [&_[cmdk-item]]:flex [&_[cmdk-item]]:items-center [&_[cmdk-item]]:gap-2 [&_[cmdk-item]]:px-2 [&_[cmdk-item]]:py-1.5 [&_[cmdk-item]]:text-small [&_[cmdk-item]]:cursor-pointer [&_[data-selected=true]]:bg-[color:var(--brass-wash)] [&_[cmdk-group-heading]]:text-micro [&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:text-[color:var(--ink-2)]">
          <Command.Empty className="px-2 py-2 text-small soft">Nothing of that name here.</Command.Empty>
          <Command.Group heading="Steps">
            {STEPS.map((s) => (
              <Command.Item key={s} value={`step ${STEP_NAMES[s]}`} onSelect={run(() => void go(`/piece/${id}/${s}`))}>
                {STEP_NAMES[s]}
              </Command.Item>
            ))}
            <Command.Item value="Yard" onSelect={run(() => void go(`/yard/${yard.id}`))}>
              Back to the Yard
            </Command.Item>
          </Command.Group>
          <Command.Group heading="Parts">
            {doc.orders.parts.map((p) => (
              <Command.Item
                key={p}
                value={`part ${doc.parts[p].name} ${p}`}
                onSelect={run(() => {
                  select(p);
                  void go(`/piece/${id}/fit`);
                })}
              >
                <Mark name={PART_MARKS[doc.parts[p].kind]} className="soft" />
                <span className="named text-[14px]">{doc.parts[p].name}</span>
              </Command.Item>
            ))}
          </Command.Group>
          <Command.Group heading="Acts">
            <Command.Item onSelect={run(undo)}>Undo</Command.Item>
            <Command.Item onSelect={run(redo)}>Redo</Command.Item>
            <Command.Item onSelect={run(switchTheme)}>Switch between chartroom and nightwatch</Command.Item>
          </Command.Group>
        </Command.List>
      </Command>
    </Dialog>
  );
}
