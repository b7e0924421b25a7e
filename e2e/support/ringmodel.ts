/** A ring for a lip, from a formula: 11.2 mm broad, its middle at 0, its hole along Z. */
import { TorusGeometry } from 'three';
import { type Delivery, deliveredGlb } from './delivery';

/** Millimetres: of its middle line, and of its wire. */
const ROUND = 5;
const WIRE = 0.6;
export const RING_BROAD_MM = 2 * (ROUND + WIRE);

export const ringGlb = (how: Delivery): Promise<Uint8Array> =>
  deliveredGlb('Ring', [new TorusGeometry(ROUND, WIRE, 12, 48)], { colour: [0.72, 0.53, 0.2], metallic: 1, roughness: 0.35 }, how);
