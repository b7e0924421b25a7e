'use client';
/** Weights put right where one presses: a region's share, a whole piece, a place made smooth. */
import { Undo2 } from 'lucide-react';
import { useState } from 'react';
import type { RecipeStep } from '@/core/piece';
import type { Vec } from '@/core/rig';
import { counted } from '@/core/words/counted';
import { jointWords } from '@/core/words/humanoid';
import { Check, Choice, NumField } from '../kit';

export type SharesSettings = Extract<RecipeStep, { step: 'shares' }>['settings'];
type Edit = SharesSettings['edits'][number];
export interface ShareTool {
  kind: 'off' | Edit['kind'];
  radiusM: number;
  share: number;
  /** Of the first press; then what the recipe says. */
  mirrored: boolean;
}
const KINDS = [
  { value: 'off', label: 'Look' },
  { value: 'region', label: 'Region', title: 'Around a press the bone has this share, less towards the border' },
  { value: 'piece', label: 'Whole piece', title: 'The piece that is pressed follows the bone and nothing else: a rivet, a button' },
  { value: 'smooth', label: 'Smooth', title: 'Around a press shares go over into their neighbours’' },
] as const;
/** Of one press. */
const ROUNDS = 6;

export const useShareTool = () => useState<ShareTool>({ kind: 'off', radiusM: 0.02, share: 1, mirrored: true });

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
  busy,
  onTool,
  onChange,
}: {
  tool: ShareTool;
  settings: SharesSettings | undefined;
  bone: string;
  busy: boolean;
  onTool: (tool: ShareTool) => void;
  /** null: none is left. */
  onChange: (settings: SharesSettings | null) => void;
}) {
  const edits = settings?.edits ?? [];
  const mirrored = settings?.mirrored ?? tool.mirrored;
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
              if (settings) onChange({ ...settings, mirrored: on });
            }}
          />
        )}
      </div>
      {tool.kind !== 'off' && tool.kind !== 'piece' && (
        <div className="grid grid-cols-2 gap-x-3 mt-1 max-w-[300px]">
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
