/**
 * What finishes read by the picture instead of by UVs: how large it is, what the camera shows there, and live mattes. There is one
 * context, and one picture under way: every material reads these.
 */
import { type Texture, Vector2 } from 'three';
import type { DrawnFinish, MapRole } from '@/core/finish';
import type { Wears } from '@/core/run';
import type { Matte } from '@/core/words/mattes';

interface Held {
  value: Texture | null;
  known: { value: number };
}
const held = (): Held => ({ value: null, known: { value: 0 } });

const size = { value: new Vector2(1, 1) };
const camera = held();
const mattes = new Map<string, Held>();
export const matteKey = ({ name, invert, growPx, featherPx }: Matte): string => `${name} ${invert} ${growPx} ${featherPx}`;

/** So large is what is drawn now, px. */
export const screenIs = (width: number, height: number): void => {
  size.value.set(width, height);
};
export function putCamera(texture: Texture | null): void {
  camera.value = texture;
  camera.known.value = texture ? 1 : 0;
}
function matteOf(key: string): Held {
  const known = mattes.get(key) ?? held();
  mattes.set(key, known);
  return known;
}
export function putMatte(key: string, texture: Texture | null): void {
  const m = matteOf(key);
  m.value = texture;
  m.known.value = texture ? 1 : 0;
}

/** Whether any of what parts wear shows the camera's picture, and the mattes that are asked for. */
export function neededBy(all: Iterable<Wears>): { camera: boolean; mattes: Map<string, Matte> } {
  const out = { camera: false, mattes: new Map<string, Matte>() };
  for (const wears of all)
    for (const f of Object.values(wears)) {
      if (f?.kind === 'patch') out.camera = true;
      if (f?.matte) out.mattes.set(matteKey(f.matte), f.matte);
    }
  return out;
}

/** Names in three's shaders: transform and coordinates of each map that a role has. */
const AT: Readonly<Record<MapRole, readonly (readonly [define: string, transform: string, at: string])[]>> = {
  base: [['USE_MAP', 'mapTransform', 'vMapUv']],
  metalRough: [
    ['USE_METALNESSMAP', 'metalnessMapTransform', 'vMetalnessMapUv'],
    ['USE_ROUGHNESSMAP', 'roughnessMapTransform', 'vRoughnessMapUv'],
  ],
  normal: [['USE_NORMALMAP', 'normalMapTransform', 'vNormalMapUv']],
  occlusion: [['USE_AOMAP', 'aoMapTransform', 'vAoMapUv']],
  glow: [['USE_EMISSIVEMAP', 'emissiveMapTransform', 'vEmissiveMapUv']],
  opacity: [['USE_ALPHAMAP', 'alphaMapTransform', 'vAlphaMapUv']],
};
const byScreen = ({ maps }: DrawnFinish): MapRole[] =>
  (Object.keys(AT) as MapRole[]).filter((role) => {
    const use = maps[role];
    return use !== null && use !== 'own' && use.uv === 'screen';
  });

interface Shader {
  uniforms: Record<string, unknown>;
  fragmentShader: string;
}
/** What of a finish another program is compiled for here; '' for nothing. */
export const screenFeatures = (f: DrawnFinish): string =>
  [...byScreen(f), ...(f.matte ? ['matte'] : []), ...(f.kind === 'patch' ? ['camera'] : [])].join(' ');

/** Writes what a finish reads by the picture into a shader of three's own. */
export function readScreen(f: DrawnFinish, shader: Shader): void {
  const roles = byScreen(f);
  const needs: string[] = ['uniform vec2 screenSize;'];
  shader.uniforms.screenSize = size;
  for (const role of roles)
    for (const [define, transform, at] of AT[role])
      needs.push(
        `#ifdef ${define}`,
        `uniform mat3 ${transform};`,
        // rows of a picture run down, those of the buffer up
        `#define ${at} ((${transform} * vec3(gl_FragCoord.x / screenSize.x, 1.0 - gl_FragCoord.y / screenSize.y, 1.0)).xy)`,
        '#endif',
      );
  let colour = '';
  if (f.kind === 'patch') {
    shader.uniforms.screenCamera = camera;
    shader.uniforms.screenCameraKnown = camera.known;
    needs.push('uniform sampler2D screenCamera; uniform float screenCameraKnown;');
    // the buffer holds what is shown already: sRGB; where nothing is shown, it shows nothing
    colour += `{
      vec4 seen = texture2D(screenCamera, gl_FragCoord.xy / screenSize);
      diffuseColor.rgb = mix(diffuseColor.rgb, sRGBTransferEOTF(seen).rgb, screenCameraKnown);
      diffuseColor.a *= mix(1.0, seen.a, screenCameraKnown);
    }\n`;
  }
  if (f.matte) {
    const matte = matteOf(matteKey(f.matte));
    shader.uniforms.screenMatte = matte;
    shader.uniforms.screenMatteKnown = matte.known;
    needs.push('uniform sampler2D screenMatte; uniform float screenMatteKnown;');
    colour += 'diffuseColor.a *= mix(1.0, texture2D(screenMatte, gl_FragCoord.xy / screenSize).a, screenMatteKnown);\n';
  }
  shader.fragmentShader = shader.fragmentShader
    .replace('#include <uv_pars_fragment>', `#include <uv_pars_fragment>\n${needs.join('\n')}`)
    .replace('#include <alphamap_fragment>', `#include <alphamap_fragment>\n${colour}`);
}
