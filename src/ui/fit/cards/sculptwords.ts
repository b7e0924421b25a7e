import type { Sculpt } from '@/core/intake';

/** What was found of a re-sculpted copy, and what was taken out of it. */
export function sculptWords(name: string, { factor, turnDeg, shiftM, mirrored, mostMm, size }: Omit<Sculpt, 'offM'>): string {
  const taken: string[] = [];
  const turned = Math.max(...Object.values(turnDeg).map(Math.abs));
  const shift = Math.hypot(...shiftM) * 1000;
  if (Math.abs(factor - 1) > 5e-5) taken.push(`a size of ×${Number((1 / factor).toPrecision(4))}`);
  if (turned > 0.003) taken.push(`a turn of ${turned.toFixed(turned < 1 ? 2 : 0)}°`);
  if (shift > 0.01) taken.push(`a shift of ${shift.toFixed(1)} mm`);
  if (mirrored) taken.push('its mirroring');
  const all = taken.join(', ').replace(/, ([^,]*)$/, ' and $1');
  return `${name}: form ${size}, re-sculpted by up to ${mostMm.toFixed(1)} mm${all ? `; ${all} ${taken.length > 1 ? 'are' : 'is'} taken out` : ''}.`;
}
