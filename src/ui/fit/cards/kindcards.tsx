'use client';
/** What each kind of part has of its own. */
import {
  branchOf,
  canFill,
  changePart,
  drawnSky,
  HAIR_MM,
  OCCLUDER_REGION_LABELS,
  OCCLUDER_REGIONS,
  OPEN_FACES,
  type PartOf,
  SCREEN_FITS,
  type ScreenFit,
  SOLID_FORMS,
  SOLID_LABELS,
  type SolidForm,
  type SolidShape,
} from '@/core/piece';
import { NumField } from '../../kit';
import { useDocument, usePiece } from '../../piece/context';
import { Card, ColourLine, PickLine } from './card';
import { OccluderFit } from './occluderfit';
import { Opacity } from './opacity';

const LOCKED = 'Unlock the part first';

function Millimetres({
  label,
  value,
  onChange,
  min = 0,
  max = 100_000,
  locked,
}: {
  label: string;
  value: number;
  onChange: (mm: number) => void;
  min?: number;
  max?: number;
  locked: boolean;
}) {
  return (
    <NumField
      label={label}
      value={value / 1000}
      dimension="length"
      unit="mm"
      decimals={1}
      step={0.001}
      min={min / 1000}
      max={max / 1000}
      disabledWhy={locked ? LOCKED : undefined}
      onChange={(m) => onChange(Math.round(m * 1e7) / 1e4)}
    />
  );
}

const WALLED: ReadonlySet<SolidForm> = new Set(['ring', 'tube', 'arch']);
const ROUNDED: ReadonlySet<SolidForm> = new Set(['box', 'cylinder', 'tube']);
const FLAT: ReadonlySet<SolidForm> = new Set(['plane', 'disc']);

export function SolidCard({ part }: { part: PartOf<'solid'> }) {
  const commit = usePiece((s) => s.commit);
  const { shape, locked } = part;
  const put = (set: Partial<SolidShape>) => commit(changePart(part.id, { shape: { ...shape, ...set } }));
  const sizes = (['side', 'up', 'fore'] as const).map((axis, i) => ({ axis, i })).filter(({ i }) => i < 2 || !FLAT.has(shape.form));
  return (
    <Card title="Solid">
      <PickLine
        label="Form"
        name="Form of the solid"
        width={110}
        value={shape.form}
        options={SOLID_FORMS.map((value) => ({ value, label: SOLID_LABELS[value] }))}
        locked={locked}
        onPick={(form) => put({ form, open: [] })}
      />
      <div className="grid gap-1.5 mt-1 text-micro soft" style={{ gridTemplateColumns: '1fr 1fr 1fr' }}>
        {sizes.map(({ axis, i }) => (
          <span key={axis}>
            <span className={`${axis}-t`}>{axis}</span>, mm
            <Millimetres
              label={`Measure ${axis}`}
              value={shape.sizeMm[i]}
              min={0.01}
              locked={locked}
              onChange={(mm) => put({ sizeMm: shape.sizeMm.map((x, k) => (k === i ? mm : x)) as SolidShape['sizeMm'] })}
            />
          </span>
        ))}
        {ROUNDED.has(shape.form) && (
          <span>
            rounded, mm
            <Millimetres label="Rounded" value={shape.roundMm} max={50_000} locked={locked} onChange={(roundMm) => put({ roundMm })} />
          </span>
        )}
        {WALLED.has(shape.form) && (
          <span>
            wall, mm
            <Millimetres label="Wall" value={shape.wallMm} min={0.01} locked={locked} onChange={(wallMm) => put({ wallMm })} />
          </span>
        )}
      </div>
      {OPEN_FACES[shape.form].length > 0 && (
        <fieldset className="flex flex-wrap gap-x-3 gap-y-1 mt-2 text-small" disabled={locked}>
          <legend className="soft text-micro float-left mr-1">Open</legend>
          {OPEN_FACES[shape.form].map((face) => (
            <label key={face} className="flex items-center gap-1">
              <input
                type="checkbox"
                className="check"
                checked={shape.open.includes(face)}
                onChange={(e) => put({ open: e.target.checked ? [...shape.open, face] : shape.open.filter((f) => f !== face) })}
              />
              {face}
            </label>
          ))}
        </fieldset>
      )}
      <OccludesRow part={part} />
    </Card>
  );
}

export function GroupCard({ part }: { part: PartOf<'group'> }) {
  const doc = useDocument();
  const inside = branchOf(doc, part.id).length - 1;
  return (
    <Card title="Group">
      <p className="text-small">
        {inside === 0
          ? 'Nothing hangs in it yet. Drag parts onto it in the rack.'
          : `${inside} part${inside > 1 ? 's' : ''} hang${inside > 1 ? '' : 's'} in it and move${inside > 1 ? '' : 's'} with it. Hiding or lifting it off takes them along.`}
      </p>
    </Card>
  );
}

/** A part that is not seen, and hides what is behind it. */
export function OccludesRow({ part }: { part: PartOf<'solid'> | PartOf<'model'> }) {
  const commit = usePiece((s) => s.commit);
  return (
    <label className="flex items-center gap-2 mt-2 text-small" title={part.locked ? LOCKED : undefined}>
      <input
        type="checkbox"
        className="check"
        checked={part.occludes}
        disabled={part.locked}
        onChange={(e) => commit(changePart(part.id, { occludes: e.target.checked }))}
      />
      hides what lies behind it, and is not seen
    </label>
  );
}

export function OccluderCard({ part }: { part: PartOf<'occluder'> }) {
  const commit = usePiece((s) => s.commit);
  const put = (set: Partial<PartOf<'occluder'>>) => commit(changePart(part.id, set));
  return (
    <Card title="Occluder">
      <p className="text-small mb-1.5">
        It takes the shape of the form and writes depth without colour: what lies behind it is hidden, as a real head would hide it. Only an
        occluder hides anything.
      </p>
      <PickLine
        label="Hides with"
        width={110}
        value={part.region}
        options={OCCLUDER_REGIONS.map((value) => ({ value, label: OCCLUDER_REGION_LABELS[value] }))}
        locked={part.locked}
        onPick={(region) => put({ region, ...(region === 'hair' && part.growMm === 0 ? { growMm: HAIR_MM } : {}) })}
      />
      <div className="grid gap-1.5 mt-1 text-micro soft" style={{ gridTemplateColumns: '1fr 1fr' }}>
        <span>
          {part.region === 'hair' ? 'thick' : 'grow'}, mm
          <Millimetres label="Grow" value={part.growMm} min={-50} max={50} locked={part.locked} onChange={(growMm) => put({ growMm })} />
        </span>
        <span>
          widen, mm
          <Millimetres
            label="Widen"
            value={part.widenMm}
            min={-50}
            max={50}
            locked={part.locked}
            onChange={(widenMm) => put({ widenMm })}
          />
        </span>
        <span title="What it hides fades out over this width">
          soft edge, mm
          <Millimetres label="Soft edge" value={part.softMm} min={0} max={40} locked={part.locked} onChange={(softMm) => put({ softMm })} />
        </span>
      </div>
      <OccluderFit part={part} />
    </Card>
  );
}

const FIT_WORDS: Readonly<Record<ScreenFit, string>> = { cover: 'and is cut', within: 'lies within', stretch: 'stretched' };

export function ScreenCard({ part }: { part: PartOf<'screen'> }) {
  const doc = useDocument();
  const commit = usePiece((s) => s.commit);
  const put = (set: Partial<PartOf<'screen'>>) => commit(changePart(part.id, set));
  const files = Object.values(doc.stock).filter(canFill);
  const around = part.stock !== null && drawnSky(doc, part.stock) !== null;
  return (
    <Card title="Screen">
      <PickLine
        label="Shows"
        name="Shown on the screen"
        value={part.stock ?? ''}
        options={[{ value: '', label: 'none' }, ...files.map((p) => ({ value: p.id, label: p.name }))]}
        locked={part.locked}
        onPick={(stock) => put({ stock: stock || null })}
      />
      {around ? (
        <div className="grid gap-1.5 mt-1 text-micro soft" style={{ gridTemplateColumns: '1fr 1fr' }}>
          <span>
            turned, °
            <NumField
              label="Turn of the environment"
              value={(part.turnDeg * Math.PI) / 180}
              dimension="angle"
              unit="°"
              decimals={0}
              step={Math.PI / 36}
              min={-2 * Math.PI}
              max={2 * Math.PI}
              disabledWhy={part.locked ? LOCKED : undefined}
              onChange={(rad) => put({ turnDeg: Math.round((rad * 180e4) / Math.PI) / 1e4 })}
            />
          </span>
          <span>
            brighter, stops
            <NumField
              label="Brightness of the environment"
              value={part.exposureEv}
              dimension="stops"
              unit="EV"
              decimals={1}
              step={0.5}
              min={-16}
              max={16}
              disabledWhy={part.locked ? LOCKED : undefined}
              onChange={(exposureEv) => put({ exposureEv })}
            />
          </span>
        </div>
      ) : (
        <PickLine
          label="Fills the picture"
          width={110}
          value={part.fit}
          options={SCREEN_FITS.map((value) => ({ value, label: FIT_WORDS[value] }))}
          locked={part.locked || part.stock === null}
          onPick={(fit) => put({ fit })}
        />
      )}
      <ColourLine
        label="Colour"
        name="Colour of the screen"
        ask="A colour fills what the picture leaves"
        value={part.colour}
        start="#14343f"
        locked={part.locked}
        onPick={(colour) => put({ colour })}
      />
      <Opacity part={part} />
    </Card>
  );
}
