'use client';
/** Weights put right where one presses or draws: strokes of a brush, a region's share, a whole piece, a place made smooth. */
import { Lock, Undo2 } from 'lucide-react';
import { useMemo, useState } from 'react';
import { boxOf } from '@/core/math';
import type { RecipeStep } from '@/core/piece';
import type { Brush, BrushKind, Vec } from '@/core/rig';
import { counted } from '@/core/words/counted';
import { jointWords } from '@/core/words/humanoid';
import { Check, Choice, NumField } from '../kit';

export type SharesSettings = Extract<RecipeStep, { step: 'shares' }>['settings'];
type Edit = SharesSettings['edits'][number];
export interface ShareTool {
  kind: 'off' | 'brush' | Edit['kind'];
  radiusM: number;
  share: number;
  brush: BrushKind;
  strength: number;
  /** Names of bones whose shares stay under the brush. */
  kept: readonly string[];
  /** Of the first press; then what the recipe says. */
  mirrored: boolean;
}
const KINDS = [
  { value: 'off', label: 'Look' },
  { value: 'brush', label: 'Brush', title: 'Drawn over the shape, stroke by stroke' },
  { value: 'region', label: 'Region', title: 'Around a press the bone has this share, less towards the border' },
  { value: 'piece', label: 'Whole piece', title: 'The piece that is pressed follows the bone and nothing else: a rivet, a button' },
  { value: 'smooth', label: 'Smooth', title: 'Around a press shares go over into their neighbours’' },
] as const;
const STROKES = [
  { value: 'add', label: 'Add', title: 'The bone gets more' },
  { value: 'take', label: 'Take', title: 'The bone gets less; the others beside it, or what it hangs from, get it' },
  { value: 'smooth', label: 'Smooth', title: 'Shares go over into their neighbours’' },
  { value: 'sharpen', label: 'Sharpen', title: 'Shares go over into one another on a shorter way' },
] as const;
/** Of one press. */
const ROUNDS = 6;
const FIRST_RADIUS_M = 0.02;

/** Of the length that bones are spread over. */
const RADIUS_SHARE = 0.05;

/** Until another is said the radius is as suits the shape. */
export function useShareTool(bones: readonly { head: Vec; tail: Vec }[]): [ShareTool, (tool: ShareTool) => void] {
  const [tool, setTool] = useState<Omit<ShareTool, 'radiusM'> & { radiusM: number | null }>({
    kind: 'off',
    radiusM: null,
    share: 1,
    brush: 'add',
    strength: 0.5,
    kept: [],
    mirrored: true,
  });
  const suited = useMemo(() => {
    const box = boxOf(bones.flatMap((b) => [...b.head, ...b.tail]));
    const long = Math.hypot(box[3] - box[0], box[4] - box[1], box[5] - box[2]);
    return Number.isFinite(long) && long > 0 ? Math.max(0.001, Number((long * RADIUS_SHARE).toPrecision(1))) : FIRST_RADIUS_M;
  }, [bones]);
  const setOwn = (to: ShareTool) => setTool(to.radiusM === suited && tool.radiusM === null ? { ...to, radiusM: null } : to);
  return [{ ...tool, radiusM: tool.radiusM ?? suited }, setOwn];
}

/** What a stroke is drawn with. */
export const brushOf = (
  { brush, radiusM, strength, mirrored, kept }: ShareTool,
  bones: readonly { name: string }[],
  bone: number,
): Brush => ({
  kind: brush,
  bone,
  radiusM,
  strength,
  mirrored,
  kept: new Set(kept.map((name) => bones.findIndex((b) => b.name === name)).filter((i) => i >= 0)),
});

/** What a press does. */
export function editAt({ kind, radiusM, share }: ShareTool, atM: Vec, bone: string): Edit | null {
  if (kind === 'region') return { kind, atM, radiusM, bone, share };
  if (kind === 'piece') return { kind, atM, bone };
  return kind === 'smooth' ? { kind, atM, radiusM, rounds: ROUNDS } : null;
}

export function ShareTools({
  tool,
  settings,
  bone,
  strokes,
  painted,
  busy,
  onTool,
  onStroke,
  onChange,
}: {
  tool: ShareTool;
  settings: SharesSettings | undefined;
  bone: string;
  /** Not in the piece yet. */
  strokes: number;
  /** How often strokes were kept. */
  painted: number;
  busy: boolean;
  onTool: (tool: ShareTool) => void;
  onStroke: (what: 'back' | 'drop' | 'keep' | 'last-away' | 'all-away') => void;
  /** null: none is left. */
  onChange: (settings: SharesSettings | null) => void;
}) {
  const edits = settings?.edits ?? [];
  const brushes = tool.kind === 'brush';
  const mirrored = (brushes ? undefined : settings?.mirrored) ?? tool.mirrored;
  return (
    <fieldset className="mb-2 pb-2 border-b border-[color:var(--hair)] text-small" aria-label="Put weights right" disabled={busy}>
      <div className="flex flex-wrap items-center gap-2">
        <Choice label="A press" options={KINDS} value={tool.kind} onChange={(kind) => onTool({ ...tool, kind })} />
        {tool.kind !== 'off' && (
          <Check
            label="On both sides"
            checked={mirrored}
            onChange={(on) => {
              onTool({ ...tool, mirrored: on });
              if (settings && !brushes) onChange({ ...settings, mirrored: on });
            }}
          />
        )}
      </div>
      {brushes && (
        <div className="mt-1.5">
          <Choice label="A stroke" options={STROKES} value={tool.brush} onChange={(brush) => onTool({ ...tool, brush })} />
        </div>
      )}
      {tool.kind !== 'off' && tool.kind !== 'piece' && (
        <div className="grid grid-cols-2 gap-x-3 mt-1 max-w-[300px]">
          {brushes && (
            <div>
              <span className="soft" aria-hidden>
                Strength
              </span>
              <NumField
                label="Strength"
                dimension="factor"
                unit="%"
                after="%"
                decimals={0}
                step={0.05}
                min={0.01}
                max={1}
                value={tool.strength}
                onChange={(strength) => onTool({ ...tool, strength })}
              />
            </div>
          )}
          {tool.kind === 'region' && (
            <div>
              <span className="soft" aria-hidden>
                Share of {jointWords(bone)}
              </span>
              <NumField
                label="Share"
                dimension="factor"
                unit="%"
                after="%"
                decimals={0}
                step={0.05}
                min={0}
                max={1}
                value={tool.share}
                onChange={(share) => onTool({ ...tool, share })}
              />
            </div>
          )}
          <div>
            <span className="soft" aria-hidden>
              As far as
            </span>
            <NumField
              label="Radius"
              dimension="length"
              unit="mm"
              after="mm"
              decimals={0}
              step={1}
              min={0.001}
              max={10}
              value={tool.radiusM}
              onChange={(radiusM) => onTool({ ...tool, radiusM })}
            />
          </div>
        </div>
      )}
      {brushes && (
        <p className="flex flex-wrap items-center gap-x-2 gap-y-1 mt-1">
          {tool.kept.map((name) => (
            <button
              key={name}
              type="button"
              className="btn btn-line btn-sm"
              title={`${jointWords(name)} is held: its shares stay. Press to let it go`}
              onClick={() => onTool({ ...tool, kept: tool.kept.filter((k) => k !== name) })}
            >
              <Lock className="ico" />
              {jointWords(name)}
            </button>
          ))}
          {!tool.kept.includes(bone) && (
            <button
              type="button"
              className="btn btn-bare btn-sm"
              title="Its shares stay, whatever is done to the others; then choose the bone to be painted"
              onClick={() => onTool({ ...tool, kept: [...tool.kept, bone] })}
            >
              Hold {jointWords(bone)}
            </button>
          )}
        </p>
      )}
      {strokes > 0 ? (
        <p className="flex flex-wrap items-center gap-2 mt-1">
          <span className="soft">{counted(strokes, 'stroke')}, not kept yet.</span>
          <button type="button" className="btn btn-line btn-sm" onClick={() => onStroke('keep')}>
            Keep the strokes
          </button>
          <button type="button" className="btn btn-bare btn-sm" onClick={() => onStroke('back')}>
            <Undo2 className="ico" />
            Stroke back
          </button>
          <button type="button" className="btn btn-bare btn-sm" onClick={() => onStroke('drop')}>
            None of them
          </button>
        </p>
      ) : (
        painted > 0 && (
          <p className="flex flex-wrap items-center gap-2 mt-1">
            <span className="soft">Strokes kept {painted === 1 ? 'once' : `${painted} times`}.</span>
            {/* not where the button stood that kept them */}
            <span className="ml-auto flex">
              {painted > 1 && (
                <button type="button" className="btn btn-bare btn-sm" onClick={() => onStroke('last-away')}>
                  <Undo2 className="ico" />
                  The last away
                </button>
              )}
              <button type="button" className="btn btn-bare btn-sm" onClick={() => onStroke('all-away')}>
                {painted > 1 ? 'All painting away' : 'Painting away'}
              </button>
            </span>
          </p>
        )
      )}
      {settings && edits.length > 0 && (
        <p className="flex flex-wrap items-center gap-2 mt-1">
          <span className="soft">Put right at {counted(edits.length, 'place')}.</span>
          <button
            type="button"
            className="btn btn-bare btn-sm"
            onClick={() => onChange(edits.length > 1 ? { ...settings, edits: edits.slice(0, -1) } : null)}
          >
            <Undo2 className="ico" />
            The last away
          </button>
          <button type="button" className="btn btn-bare btn-sm" onClick={() => onChange(null)}>
            All away
          </button>
        </p>
      )}
    </fieldset>
  );
}
