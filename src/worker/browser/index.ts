/** Browser client of the computing thread. */
export { computing } from './client';
