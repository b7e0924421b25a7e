'use client';
/** The camera in the rack's place: from how far, how wide, mirrored or not, in a picture of what shape. */
import { X } from 'lucide-react';
import { LENS_RANGE, LENSES, type LensName, type LensView, PICTURE_SHAPES, type PictureShape } from '@/core/capture';
import { Choice, NumField, PickField } from '../kit';
import { useFit } from './state';

const NAMES = (Object.keys(LENSES) as LensName[]).map((value) => ({
  value,
  label: value,
  title: {
    portrait: 'A step away, as portraits are taken',
    front: 'Held out by the wearer, mirrored',
    back: 'Held by somebody before them',
  }[value],
}));
const SHAPES = (Object.keys(PICTURE_SHAPES) as PictureShape[]).map((s) => [s, s.replace(':', ' : ')] as const);
const RAD = Math.PI / 180;

export function CameraPanel() {
  const camera = useFit((s) => s.camera);
  const set = useFit((s) => s.set);
  const now: LensView = camera ?? LENSES.portrait;
  const put = (change: Partial<LensView>) => set({ camera: { ...now, ...change } });
  const name =
    camera && NAMES.find(({ value }) => (Object.keys(now) as (keyof LensView)[]).every((k) => LENSES[value][k] === now[k]))?.value;
  return (
    <aside className="rack flex flex-col min-h-0 border-r border-[color:var(--hair-strong)] text-small" aria-label="Camera" data-open="">
      <header className="flex items-center gap-1 pl-3 pr-2 h-[38px] rule-b">
        <h2 className="text-[14px] font-semibold mr-auto">Camera</h2>
        <button type="button" className="btn btn-bare btn-sm btn-icon" aria-label="Close the camera" onClick={() => set({ panel: null })}>
          <X className="ico" />
        </button>
      </header>
      <div className="overflow-y-auto min-h-0 flex-1 px-3 py-2.5 flex flex-col gap-2.5">
        <Choice label="Lens" options={NAMES} value={name ?? ('' as LensName)} onChange={(n) => set({ camera: { ...LENSES[n] } })} />
        <div className="grid items-center gap-x-2 gap-y-1.5" style={{ gridTemplateColumns: 'minmax(0, 1fr) 104px' }}>
          <span className="soft">From the face</span>
          <NumField
            label="Distance of the camera"
            dimension="length"
            unit="cm"
            after="cm"
            decimals={0}
            step={0.05}
            min={LENS_RANGE.distanceM[0]}
            max={LENS_RANGE.distanceM[1]}
            value={now.distanceM}
            onChange={(distanceM) => put({ distanceM })}
          />
          <span className="soft">Field of view, upright</span>
          <NumField
            label="Field of view"
            dimension="angle"
            unit="°"
            after="°"
            decimals={0}
            step={5 * RAD}
            min={LENS_RANGE.fovDeg[0] * RAD}
            max={LENS_RANGE.fovDeg[1] * RAD}
            value={now.fovDeg * RAD}
            onChange={(rad) => put({ fovDeg: Math.round((rad / RAD) * 1e4) / 1e4 })}
          />
          <span className="soft">Shape of the picture</span>
          <PickField label="Shape of the picture" value={now.shape} options={SHAPES} onChange={(shape) => put({ shape })} wide />
        </div>
        <label className="flex items-center gap-1.5">
          <input type="checkbox" className="check" checked={now.mirrored} onChange={(e) => put({ mirrored: e.target.checked })} />
          mirrored, as wearers see themselves
        </label>
        <p className="text-micro soft">
          The Mirror shows it; poses, sheets and covers keep the portrait. Left and right are the wearer’s, mirrored or not.
        </p>
        <button type="button" className="btn btn-line btn-sm" aria-disabled={!camera} onClick={() => camera && set({ camera: null })}>
          As pieces are looked at
        </button>
      </div>
    </aside>
  );
}
