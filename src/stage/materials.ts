/** Materials and light of the stage. Colours in sRGB hex; the form carries its own vertex colours. */

import {
  CanvasTexture,
  Color,
  DirectionalLight,
  DoubleSide,
  type Group,
  HemisphereLight,
  type Light,
  LinearFilter,
  MeshBasicMaterial,
  MeshStandardMaterial,
  type Scene,
  ShaderMaterial,
  SRGBColorSpace,
  type Texture,
  Vector3,
} from 'three';
import type { Form } from '@/core/form';

export interface FormLook {
  skin: MeshStandardMaterial;
  eyes: MeshStandardMaterial;
}

/** A wearer as a camera shows one: warm skin over the clay's own shade. */
export function createWearerLook(): FormLook {
  const tint = new Color(0xd8a283);
  return {
    skin: new MeshStandardMaterial({ vertexColors: true, color: tint, roughness: 0.74 }),
    eyes: new MeshStandardMaterial({ vertexColors: true, roughness: 0.25 }),
  };
}

/** The fitting form as the plates show it: bare clay. */
export function createClayLook(): FormLook {
  return {
    skin: new MeshStandardMaterial({ vertexColors: true, color: 0xfffaf0, roughness: 0.75 }),
    eyes: new MeshStandardMaterial({ vertexColors: true, color: 0xfffaf0, roughness: 0.5 }),
  };
}

/** Writes depth and no colour. */
export const createOccluderMaterial = () => new MeshBasicMaterial({ colorWrite: false, side: DoubleSide });
/** Hides where the fourth number of a vertex' colour is over a half. */
export const createMaskedOccluderMaterial = () =>
  new MeshBasicMaterial({ colorWrite: false, side: DoubleSide, vertexColors: true, alphaTest: 0.5 });

/** Diagonal lines fixed to the picture, 45°, over the occluder's shape. */
export function createHatchMaterial(color = 0x14283a, opacity = 0.34): ShaderMaterial {
  return new ShaderMaterial({
    transparent: true,
    depthWrite: false,
    polygonOffset: true,
    polygonOffsetFactor: -1,
    polygonOffsetUnits: -1,
    uniforms: { ink: { value: new Color(color) }, strength: { value: opacity }, spacing: { value: 7 } },
    vertexShader: 'void main() { gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0); }',
    fragmentShader: `uniform vec3 ink; uniform float strength; uniform float spacing;
      void main() {
        float d = mod(gl_FragCoord.x + gl_FragCoord.y, spacing);
        if (d > 1.4) discard;
        gl_FragColor = vec4(ink, strength);
      }`,
  });
}

const [SHIRT, TROUSERS, SHOES] = [0x2f4450, 0x3b3a38, 0x2a2422].map((hex) => new Color(hex));
const CLOTHES: Readonly<Record<string, Color>> = { bust: SHIRT, cut: SHIRT, torso: SHIRT, arm: SHIRT, leg: TROUSERS, foot: SHOES };

/** The wearer's colours: the clay's, with dark clothes. */
export function dressedColors(form: Pick<Form, 'colors' | 'regions'>): Float32Array {
  const colors = form.colors.slice();
  const { names, ids } = form.regions;
  ids.forEach((id, v) => {
    const cloth = CLOTHES[names[id]];
    if (!cloth) return;
    // keep the shade that is baked into the clay
    const shade = Math.min(1, form.colors[v * 3 + 1] / 0.64);
    colors.set([cloth.r * shade, cloth.g * shade, cloth.b * shade], v * 3);
  });
  return colors;
}

/** Key from the picture's upper left, fill from the sky, a cool rim from behind. */
export function addLights(scene: Scene | Group, strength = 1): Light[] {
  const key = new DirectionalLight(0xfff0dc, 2.3 * strength);
  key.position.copy(new Vector3(-0.8, 1.1, 1.3));
  const rim = new DirectionalLight(0xbfdfe6, 1.2 * strength);
  rim.position.set(1.2, 0.6, -1);
  const lights = [key, rim, new HemisphereLight(0xf1f2f6, 0xd3c5bb, 1.7 * strength)];
  scene.add(...lights);
  return lights;
}

const [QUAY_W, QUAY_H] = [96, 144];
/** A small picture, enlarged smoothly, drawn from numbers. */
function drawnTexture(draw: (x: CanvasRenderingContext2D, w: number, h: number) => void): Texture {
  const canvas = document.createElement('canvas');
  canvas.width = QUAY_W;
  canvas.height = QUAY_H;
  // kept off the graphics process: filters and first uses there take a software renderer many seconds
  const x = canvas.getContext('2d', { willReadFrequently: true });
  if (!x) throw new Error('This browser has no 2D canvas.');
  draw(x, QUAY_W, QUAY_H);
  const texture = new CanvasTexture(canvas);
  texture.colorSpace = SRGBColorSpace;
  texture.generateMipmaps = false;
  texture.minFilter = LinearFilter;
  return texture;
}

/** Houses along the quay. */
function houses(x: CanvasRenderingContext2D, w: number, h: number): void {
  for (let i = 0; i < 9; i++) {
    const height = h * (0.05 + ((i * 53) % 7) * 0.014);
    x.fillRect((i * 0.13 - 0.05) * w, h * 0.55 - height, w * (0.07 + ((i * 37) % 5) * 0.012), height);
  }
}

/** Where the quay at dusk has sky, white. */
export const createQuaySky = (): Texture =>
  drawnTexture((x, w, h) => {
    x.fillStyle = '#000';
    x.fillRect(0, 0, w, h);
    x.fillStyle = '#fff';
    x.fillRect(0, 0, w, h * 0.55);
    x.fillStyle = '#000';
    houses(x, w, h);
  });

/** The quay at dusk behind the wearer, drawn from numbers: as soft as a portrait's background. */
export const createQuayBackdrop = (): Texture => drawnTexture(drawQuay);
function drawQuay(x: CanvasRenderingContext2D, w: number, h: number): void {
  const sky = x.createLinearGradient(0, 0, 0, h);
  const stops: [number, string][] = [
    [0, '#0c2029'],
    [0.34, '#1d4450'],
    [0.52, '#b98450'],
    [0.6, '#3c3b36'],
    [1, '#0e1f26'],
  ];
  for (const [at, c] of stops) sky.addColorStop(at, c);
  x.fillStyle = sky;
  x.fillRect(0, 0, w, h);
  x.fillStyle = 'rgba(21,48,58,.8)';
  houses(x, w, h);
  for (let i = 0; i < 22; i++) {
    x.fillStyle = ['rgba(255,196,104,.5)', 'rgba(255,224,160,.38)', 'rgba(230,110,70,.36)'][i % 3];
    x.beginPath();
    x.arc((((i * 61) % 100) / 100) * w, h * (0.16 + ((i * 43) % 38) / 100), w * (0.016 + ((i * 7) % 6) * 0.007), 0, 7);
    x.fill();
  }
}

/** What a matte is drawn with: white where somebody is. */
export const createMatteMaterial = () => new MeshBasicMaterial({ color: 0xffffff, side: DoubleSide, toneMapped: false });
