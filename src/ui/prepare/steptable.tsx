'use client';
import { closestCenter, DndContext, type DragEndEvent, KeyboardSensor, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import { arrayMove, SortableContext, sortableKeyboardCoordinates, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { ChevronDown, ChevronRight, GripVertical, Trash2 } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { showBytesFinely, showCount } from '@/core/math';
import { PACKINGS, type RecipeStep } from '@/core/piece';
import type { StepCost } from '@/core/prepare/terms';
import { dragWords } from '../kit';
import { stepWords } from '../stock/recipe';
import { Num } from './fields';
import type { ModelParts, Painting } from './settingtypes';
import { costsByPlace } from './steps';
import { hasSettings, StepSettings } from './stepsettings';

const COLUMNS = '20px 22px minmax(0,1fr) 128px 78px 78px 62px 26px';

/** The recipe, step by step: what each saved, and what all so far together show. */
export function StepTable({
  steps,
  costs,
  parts,
  painting,
  onChange,
}: {
  steps: readonly RecipeStep[];
  costs: readonly StepCost[];
  parts: ModelParts;
  /** Of the step with this id. */
  painting: (id: string) => Painting;
  onChange: (steps: RecipeStep[]) => void;
}) {
  const [open, setOpen] = useState<string | null>(null);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const words = dragWords((id) => {
    const step = steps.find((s) => s.id === id);
    return step ? stepWords(step) : 'a step';
  }, 'Press Space to take the step up, arrows to move it, Space to put it down, Esc to leave it where it was.');
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (over && active.id !== over.id)
      onChange(
        arrayMove(
          [...steps],
          steps.findIndex((s) => s.id === active.id),
          steps.findIndex((s) => s.id === over.id),
        ),
      );
  };
  // by place, not by name: the same recipe may have been measured under other names
  const costOf = costsByPlace(steps, costs);
  const change = (step: RecipeStep) => onChange(steps.map((s) => (s.id === step.id ? step : s)));
  return (
    <div>
      <div className="grid gap-2 text-micro soft rule-b pb-1" style={{ gridTemplateColumns: COLUMNS }}>
        <span />
        <span />
        <span>Step</span>
        <span>Setting</span>
        <span className="text-right">Saved</span>
        <span className="text-right">Triangles</span>
        <span className="text-right" title="Visible error of all steps so far together">
          E so far
        </span>
        <span />
      </div>
      <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd} accessibility={words}>
        <SortableContext items={steps.map((s) => s.id)} strategy={verticalListSortingStrategy}>
          {steps.map((s, i) => (
            <Row
              key={s.id}
              step={s}
              cost={costOf[i]}
              open={open === s.id}
              onOpen={() => setOpen(open === s.id ? null : s.id)}
              settings={<StepSettings step={s} parts={parts} painting={painting(s.id)} onChange={change} />}
              onChange={change}
              onRemove={() => onChange(steps.filter((x) => x.id !== s.id))}
            />
          ))}
        </SortableContext>
      </DndContext>
    </div>
  );
}

function Row({
  step,
  cost,
  open,
  onOpen,
  settings,
  onChange,
  onRemove,
}: {
  step: RecipeStep;
  cost?: StepCost;
  open: boolean;
  onOpen: () => void;
  settings: ReactNode;
  onChange: (s: RecipeStep) => void;
  onRemove: () => void;
}) {
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({ id: step.id });
  const words = stepWords(step);
  return (
    <div
      ref={setNodeRef}
      className="rule-b text-small"
      style={{ transform: CSS.Translate.toString(transform), transition, opacity: step.on ? 1 : 0.6 }}
      data-step={step.step}
    >
      <div className="grid gap-2 items-center py-[5px]" style={{ gridTemplateColumns: COLUMNS }}>
        <button type="button" className="cursor-grab soft" aria-label={`Move ${words}`} {...attributes} {...listeners}>
          <GripVertical className="ico" />
        </button>
        <input
          type="checkbox"
          className="checkbox checkbox-xs"
          checked={step.on}
          aria-label={`${words}: on`}
          onChange={() => onChange({ ...step, on: !step.on })}
        />
        {hasSettings(step) ? (
          <button type="button" className="flex items-center gap-1 min-w-0 text-left" aria-expanded={open} title={words} onClick={onOpen}>
            {open ? <ChevronDown className="ico" /> : <ChevronRight className="ico" />}
            <span className="truncate">{words}</span>
          </button>
        ) : (
          <span className="truncate pl-[19px]" title={words}>
            {words}
          </span>
        )}
        <Setting step={step} onChange={onChange} />
        <span className="num text-right">{cost ? showBytesFinely(cost.savedBytes) : '–'}</span>
        <span className="num text-right">{cost ? (cost.savedTriangles === 0 ? '0' : showCount(-cost.savedTriangles)) : '–'}</span>
        <span className="num text-right">{cost?.e == null ? '–' : cost.e.toFixed(2)}</span>
        <button type="button" className="soft" aria-label={`Take out ${words}`} title="Take this step out" onClick={onRemove}>
          <Trash2 className="ico" />
        </button>
      </div>
      {open && (
        <div className="pl-[46px] pr-2 pb-2.5 pt-0.5" data-settings={step.step}>
          {settings}
        </div>
      )}
    </div>
  );
}

/** The one setting of a step that is changed most. */
function Setting({ step, onChange }: { step: RecipeStep; onChange: (s: RecipeStep) => void }) {
  switch (step.step) {
    case 'simplify': {
      const { ratio, errorMm } = step.settings;
      return ratio !== null ? (
        <Num
          label="Triangles to keep"
          unit="%"
          value={Number((ratio * 100).toFixed(1))}
          min={0.1}
          max={100}
          onChange={(x) => onChange({ ...step, settings: { ...step.settings, ratio: x / 100 } })}
        />
      ) : (
        <Num
          label="Greatest error"
          unit="mm"
          value={Number((errorMm ?? 0).toPrecision(3))}
          min={0}
          max={1000}
          onChange={(x) => onChange({ ...step, settings: { ...step.settings, errorMm: x } })}
        />
      );
    }
    case 'pictures': {
      const all = [...step.settings.roles, ...step.settings.textures];
      const edge = Math.max(1, ...all.map((r) => r.maxEdge));
      const put = <T extends { maxEdge: number }>(list: readonly T[], x: number) =>
        list.map((r) => ({ ...r, maxEdge: Math.min(r.maxEdge === edge ? x : r.maxEdge, x) }));
      return (
        <Num
          label="Longest edge of a picture"
          unit="px"
          value={edge}
          min={16}
          max={16384}
          whole
          onChange={(x) =>
            onChange({ ...step, settings: { roles: put(step.settings.roles, x), textures: put(step.settings.textures, x) } })
          }
        />
      );
    }
    case 'quantise':
      return (
        <Num
          label="Bits of places"
          unit="bits"
          value={step.settings.positionBits}
          min={6}
          max={16}
          whole
          onChange={(x) => onChange({ ...step, settings: { ...step.settings, positionBits: x } })}
        />
      );
    case 'compress':
      return (
        <select
          className="field h-[24px]! px-1! text-small"
          aria-label="Packed with"
          value={step.settings.method}
          onChange={(e) => onChange({ ...step, settings: { method: e.target.value as (typeof PACKINGS)[number] } })}
        >
          {PACKINGS.map((m) => (
            <option key={m} value={m}>
              {m === 'draco' ? 'Draco' : 'meshopt'}
            </option>
          ))}
        </select>
      );
    default:
      return <span />;
  }
}
