'use client';
/** A live mask as opacity: whose, inverted, grown, softened. */
import { MATTE_NAMES, type Matte, type MatteName } from '@/core/piece';
import { NumField } from '../../kit';

const WORDS: Readonly<Record<MatteName, string>> = {
  person: 'the wearer',
  face: 'the face',
  hair: 'the hair',
  hands: 'the hands',
  sky: 'the sky',
};

export function MatteFields({ matte, onPut }: { matte: Matte | null; onPut: (matte: Matte | null) => void }) {
  const px = (label: string, value: number, min: number, keep: (v: number) => void) => (
    <span className="w-[52px]">
      <NumField
        label={`${label} of the mask, px`}
        value={value}
        dimension="count"
        unit=""
        decimals={0}
        step={1}
        min={min}
        max={64}
        onChange={keep}
      />
    </span>
  );
  return (
    <>
      <label className="flex items-center gap-2 min-h-[30px]">
        <span className="soft">Only within</span>
        <select
          className="field h-[26px]! px-1! text-small w-[110px] ml-auto"
          aria-label="Live mask"
          value={matte?.name ?? ''}
          onChange={(e) =>
            onPut(e.target.value ? { invert: false, growPx: 0, featherPx: 2, ...matte, name: e.target.value as MatteName } : null)
          }
        >
          <option value="">anywhere</option>
          {MATTE_NAMES.map((name) => (
            <option key={name} value={name}>
              {WORDS[name]}
            </option>
          ))}
        </select>
      </label>
      {matte && (
        <span className="flex flex-wrap items-center gap-x-2 gap-y-1 text-micro soft pb-1">
          <label className="flex items-center gap-1">
            <input
              type="checkbox"
              className="check"
              checked={matte.invert}
              onChange={(e) => onPut({ ...matte, invert: e.target.checked })}
            />
            outside it
          </label>
          grown {px('Growth', matte.growPx, -64, (growPx) => onPut({ ...matte, growPx }))}
          soft {px('Softness', matte.featherPx, 0, (featherPx) => onPut({ ...matte, featherPx }))} px
        </span>
      )}
    </>
  );
}
