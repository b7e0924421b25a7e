'use client';
/** Beside the Mirror while the work is about looks: the chosen layer, the piece's finishes. */
import { layerName } from '@/core/piece';
import { NumField } from '../../kit';
import { useDocument } from '../../piece/context';
import { Card } from '../cards/card';
import { LayerFields } from '../layerfields';
import { useFit } from '../state';
import { Colourways } from './colourways';
import { LightCard } from './lightcard';
import { PieceFinishes } from './piecefinishes';

const EXACT = { softPx: 0, errorPx: 0, seed: 1, lagMs: 0, form: null };

export function LookPanel({ layer }: { layer: string | null }) {
  const doc = useDocument();
  const row = layer ? doc.layers[layer] : undefined;
  const mattes = Object.values(doc.layers).some((l) => l.kind === 'matte');
  return (
    <section className="look-panel flex flex-col min-h-0 overflow-y-auto pt-2 pr-1 pb-2" aria-label="Looks">
      {row && (row.kind === 'parts' || row.kind === 'matte') && (
        <Card title={`Layer ${layerName(row)}`}>
          <LayerFields layer={row} />
        </Card>
      )}
      {mattes && <DeviceMattes />}
      <Colourways />
      <LightCard />
      <PieceFinishes />
    </section>
  );
}

/** How wrong the simulated device's mattes are: real ones are soft, err along their edges, and come late. */
function DeviceMattes() {
  const poor = useFit((s) => s.poor) ?? EXACT;
  const set = useFit((s) => s.set);
  const put = (change: Partial<typeof EXACT>) => {
    const next = { ...poor, ...change };
    set({ poor: next.softPx === 0 && next.errorPx === 0 && next.lagMs === 0 ? null : next });
  };
  const field = (label: string, unit: string, value: number, max: number, keep: (v: number) => void) => (
    <span className="grid gap-0.5">
      <span className="text-micro soft">
        {label}, {unit}
      </span>
      <NumField
        label={`${label} of the device’s mattes`}
        value={value}
        dimension="factor"
        unit="×"
        decimals={0}
        step={1}
        min={0}
        max={max}
        onChange={keep}
      />
    </span>
  );
  return (
    <Card title="The device’s mattes">
      <div className="grid grid-cols-4 gap-2">
        {field('Soft', 'px', poor.softPx, 64, (softPx) => put({ softPx }))}
        {field('Off', 'px', poor.errorPx, 64, (errorPx) => put({ errorPx }))}
        {field('Late', 'ms', poor.lagMs, 1000, (lagMs) => put({ lagMs }))}
        {field('Seed', 'of off', poor.seed, 999, (seed) => put({ seed }))}
      </div>
      <p className="text-micro soft mt-1">At nought they are exact. A way of looking: it is not kept in the piece.</p>
    </Card>
  );
}
