/** Browser clients of the page's threads. */

export type { WornCell } from '@/core/run/placed';
export { computing, forms } from './client';
export type { Cloth, FitTold, SeenCell, ToldCell } from './form.worker';
