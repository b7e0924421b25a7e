/** Browser clients of the page's threads. */
export { computing, forms } from './client';
export type { Cloth, SeenCell, SizedCell, ToldCell } from './form.worker';
