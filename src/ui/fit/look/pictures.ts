/** Layer pictures: their size, and what tells that one must be drawn anew. */
import type { StageLayer, StageState } from '@/core/run';
import type { Wearer } from '../../piece/wearers';

/** As the Mirror is shaped now, so many px high. */
export function mirrorSize(height: number): { width: number; height: number; ratio: number } {
  const canvas = document.querySelector<HTMLCanvasElement>('[data-view="mirror"]');
  const shape = canvas?.clientHeight ? canvas.clientWidth / canvas.clientHeight : 9 / 16;
  return { width: Math.max(8, Math.round(height * shape)), height, ratio: 1.5 };
}

let last = 0;
const numbers = new WeakMap<object, number>();
/** Large arrays and wearers are told apart by which they are. */
function numberOf(of: object): number {
  const known = numbers.get(of);
  if (known) return known;
  last += 1;
  numbers.set(of, last);
  return last;
}

export function layerKey(state: StageState, layer: StageLayer, wearer: Wearer, ready: object): string {
  const ids = new Set(layer.parts);
  const said = {
    layer: { ...layer, shown: true },
    parts: state.parts.filter((p) => ids.has(p.id)),
    camera: state.camera,
    form: state.form,
    light: state.light,
    // files and light that came meanwhile
    ready: numberOf(ready),
    wearer: numberOf(wearer),
  };
  return JSON.stringify(said, (_, v) => (ArrayBuffer.isView(v) ? `#${numberOf(v)}` : v));
}
