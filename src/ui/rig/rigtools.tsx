'use client';
/** The first line of Rig: which model, what raises bones in it, by which weights, and what takes them away. */
import { Columns2, Crosshair, PersonStanding, Shirt, Undo2, Wand2 } from 'lucide-react';
import { type ModelItem, WEIGHT_METHODS } from '@/core/piece';
import { HUMANOID_DETAILS, type HumanoidDetail } from '@/core/words/humanoid';
import { PickField } from '../kit';
import { ModelPick } from '../piece/modelpick';
import { WEIGHT_WORDS } from '../stock/recipe';

export type WeightsAsked = (typeof WEIGHT_METHODS)[number];

export function RigTools({
  item,
  models,
  off,
  pressOff,
  busy,
  raised,
  detail,
  weights,
  pressing,
  plates,
  onPick,
  onChains,
  onFigure,
  onGarment,
  onPress,
  onWeights,
  onDetail,
  onPlates,
  onAway,
}: {
  item: ModelItem;
  models: readonly ModelItem[];
  /** Nothing can be raised in the whole shape: the model has bones of its own, or is not there yet. */
  off: boolean;
  /** Nor can a chain be pressed. */
  pressOff: boolean;
  busy: boolean;
  raised: 'chains' | 'figure' | 'garment' | null;
  /** Of a figure. */
  detail: HumanoidDetail | null;
  /** null: they come from the body. */
  weights: WeightsAsked | null;
  pressing: boolean;
  /** null: there are no chains to be shown in two plates. */
  plates: boolean | null;
  onPick: (id: string) => void;
  onChains: () => void;
  onFigure: () => void;
  onGarment: () => void;
  onPress: () => void;
  onWeights: (weights: WeightsAsked) => void;
  onDetail: (detail: HumanoidDetail) => void;
  onPlates: () => void;
  onAway: () => void;
}) {
  return (
    <div className="flex flex-wrap items-center gap-2">
      <h2 className="text-[15px] font-semibold mr-1">Rig</h2>
      <ModelPick value={item.id} models={models} onPick={onPick} />
      <button
        type="button"
        className="btn btn-primary btn-sm"
        disabled={busy || off}
        title="A chain in each limb of the shape, joined to one root, with weights"
        onClick={onChains}
      >
        <Wand2 className="ico" />
        Chains in all limbs
      </button>
      <button
        type="button"
        className="btn btn-line btn-sm"
        disabled={busy || off}
        aria-pressed={raised === 'figure'}
        title="The bones of a body: head, arms and legs are found by themselves, in any pose and turn"
        onClick={onFigure}
      >
        <PersonStanding className="ico" />A figure
      </button>
      <button
        type="button"
        className="btn btn-line btn-sm"
        disabled={busy || off}
        aria-pressed={raised === 'garment'}
        title="For what lies on the body: bones of the body, weights of the skin below"
        onClick={onGarment}
      >
        <Shirt className="ico" />A garment
      </button>
      <button
        type="button"
        className="btn btn-line btn-sm"
        disabled={busy || pressOff}
        aria-pressed={pressing}
        title="Two presses on the picture: where a chain begins, and where it ends; on bones that are there it hangs from the one there"
        onClick={onPress}
      >
        <Crosshair className="ico" />
        Press root and tip
      </button>
      {weights !== null && (
        <PickField
          label="Weights"
          value={weights}
          options={WEIGHT_METHODS.map((w) => [w, WEIGHT_WORDS[w]] as const)}
          onChange={onWeights}
        />
      )}
      {detail !== null && (
        <PickField
          label="Bones"
          value={String(detail)}
          options={HUMANOID_DETAILS.map((d) => [String(d), `${d} bones`] as const)}
          onChange={(d) => onDetail(HUMANOID_DETAILS.find((x) => String(x) === d) ?? 22)}
        />
      )}
      {plates !== null && (
        <button
          type="button"
          className="btn btn-line btn-sm"
          aria-pressed={plates}
          title="From the front and from the side, with joints to drag"
          onClick={onPlates}
        >
          <Columns2 className="ico" />
          Two plates
        </button>
      )}
      {raised !== null && (
        <button type="button" className="btn btn-bare btn-sm ml-auto" disabled={busy} onClick={onAway}>
          <Undo2 className="ico" />
          Take the bones away
        </button>
      )}
    </div>
  );
}
