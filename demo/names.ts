/** Invented names of the demo. */
export const DEMO_ACCOUNT = { email: 'ines@tern-tallow.example', name: 'Ines Marsh', password: 'lantern-regatta' };
export const DEMO_PIECES = { yard: 'Saltmarsh Lantern Regatta', helmet: 'Brass diver’s helmet', spectacles: 'Tide-glass spectacles' };
