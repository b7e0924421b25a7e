/** Draws a GLB in Chromium from a bearing and a height: bundled into an empty page by `pictures.ts`. */
import {
  AmbientLight,
  Box3,
  Color,
  DirectionalLight,
  type Group,
  HemisphereLight,
  MathUtils,
  Mesh,
  OrthographicCamera,
  Scene,
  Texture,
  Vector3,
  WebGLRenderer,
} from 'three';
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js';

const SIZE = 320;
const renderer = new WebGLRenderer({ antialias: true, preserveDrawingBuffer: true });
renderer.setSize(SIZE, SIZE, false);
const scene = new Scene();
scene.background = new Color(0x777777);
const key = new DirectionalLight(0xffffff, 2.2);
scene.add(key, new HemisphereLight(0xffffff, 0x667788, 1.2), new AmbientLight(0xffffff, 0.3));
let frame: { centre: Vector3; radius: number } | null = null;

async function load(base64: string): Promise<Group> {
  const bytes = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
  return (await new GLTFLoader().parseAsync(bytes.buffer, '')).scene;
}

/** @param reset the model that decides the frame: the original */
async function draw(base64: string, bearings: readonly (readonly [number, number])[], reset: boolean): Promise<string[]> {
  const model = await load(base64);
  scene.add(model);
  model.updateMatrixWorld(true);
  if (reset || !frame) {
    const box = new Box3().setFromObject(model);
    frame = { centre: box.getCenter(new Vector3()), radius: box.getSize(new Vector3()).length() / 2 };
  }
  const { centre, radius } = frame;
  const out: string[] = [];
  const camera = new OrthographicCamera(-radius, radius, radius, -radius, radius * 0.01, radius * 8);
  for (const [bearing, height] of bearings) {
    const [b, h] = [MathUtils.degToRad(bearing), MathUtils.degToRad(height)];
    const back = new Vector3(Math.sin(b) * Math.cos(h), Math.sin(h), Math.cos(b) * Math.cos(h));
    camera.position.copy(centre).addScaledVector(back, radius * 4);
    camera.lookAt(centre);
    // over the shoulder, to one side: another light than the solver's
    key.position.copy(camera.position).add(new Vector3(Math.cos(b), 0.8, -Math.sin(b)).multiplyScalar(radius * 2));
    key.target.position.copy(centre);
    key.target.updateMatrixWorld();
    renderer.render(scene, camera);
    out.push(renderer.domElement.toDataURL('image/png'));
  }
  scene.remove(model);
  // many models are drawn one after another: what the last one held goes, or the context is lost
  model.traverse((o) => {
    if (!(o instanceof Mesh)) return;
    o.geometry.dispose();
    for (const m of [o.material].flat()) {
      for (const value of Object.values(m)) if (value instanceof Texture) value.dispose();
      m.dispose();
    }
  });
  return out;
}

Object.assign(window, { draw });
