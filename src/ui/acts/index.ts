export { doAct, doingOf, keyOf, keysOf, useActs, useKeyOf, useKeys } from './acts';
export { ACTS, type ActId } from './catalog';
export { ActsLayer } from './layer';
