/** Builds the half of the base form at x >= 0: template, projection, relaxation, texture coordinates. */
import { buildCut } from './cut';
import { buildEar } from './ear';
import { buildEye } from './eye';
import { buildGrid } from './grid';
import { createHalfMesh, type HalfMesh } from './mesh';
import { buildMouth } from './mouth';
import { buildNostril, openNostril } from './nose';
import { markMidline, relax } from './relax';
import { layoutUv } from './uv';

export function buildHalf(): HalfMesh {
  const h = createHalfMesh();
  buildGrid(h);
  buildEye(h);
  buildMouth(h);
  openNostril(h);
  buildEar(h);
  markMidline(h);
  relax(h);
  buildNostril(h);
  buildCut(h);
  layoutUv(h);
  return h;
}

export { type HalfMesh, REGIONS, type Region, RG, type Tag, tagOf } from './mesh';
