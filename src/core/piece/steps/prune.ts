import * as z from 'zod';
import { defineStep } from './define';

export const PruneSettings = z.strictObject({});

export const prune = defineStep({
  settings: PruneSettings,
  for: ['model'],
  effect: 'shape',
});
