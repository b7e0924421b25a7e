/**
 * `./scaphos bench prepare [compare [MODEL]|grid|costs]`: beside two general optimisers at equal bytes and at equal error, beside a grid tried
 * whole, and what it costs in time and memory. Scored with samplings, trees and pictures that are not the solver's; ratios in one run.
 */
import { compareAll } from './compare';
import { measureCosts } from './costs';
import { tryGrids } from './grid';

const PARTS: Readonly<Record<string, (only?: string) => Promise<void>>> = { compare: compareAll, grid: tryGrids, costs: measureCosts };

const wanted = process.argv[3];
if (wanted !== undefined && !Object.hasOwn(PARTS, wanted))
  throw new Error(`bench prepare takes ${Object.keys(PARTS).join(', ')}, not ${wanted}.`);
for (const [name, run] of Object.entries(PARTS)) if (wanted === undefined || wanted === name) await run(process.argv[4]);
