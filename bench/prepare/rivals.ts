/** Two general optimisers, run as their users run them, with ratio and error swept together. */
import { execFileSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { join } from 'node:path';

const tools = process.env.SCAPHOS_RIVALS ?? '';
export const rivalPath = (name: string) => {
  const path = join(tools, 'node_modules', name);
  if (!tools || !existsSync(path)) throw new Error(`${name} is missing: scripts/bench installs it`);
  return path;
};
const node = (args: string[]) => execFileSync(process.execPath, args, { stdio: 'ignore' });

/** Ratio of triangles, and the greatest error as a share of the model's size. */
export const SWEEP: readonly (readonly [ratio: number, error: number])[] = [
  [0.6, 0.01],
  [0.4, 0.02],
  [0.25, 0.05],
  [0.15, 0.05],
  [0.08, 0.1],
];

export const RIVALS = {
  gltfpack: (from: string, to: string, ratio: number, error: number) =>
    node([join(rivalPath('gltfpack'), 'cli.js'), '-i', from, '-o', to, '-cc', '-si', String(ratio), '-se', String(error)]),
  'gltf-transform': (from: string, to: string, ratio: number, error: number) =>
    node([
      join(rivalPath('@gltf-transform/cli'), 'bin', 'cli.js'),
      'optimize',
      from,
      to,
      '--compress',
      'meshopt',
      '--simplify-ratio',
      String(ratio),
      '--simplify-error',
      String(error),
    ]),
} as const;
export type Rival = keyof typeof RIVALS;
export const RIVAL_NAMES = Object.keys(RIVALS) as Rival[];
