/** What the Mirror was given, as it reaches WebGL, beside what `./scaphos run` prints of the same piece, over a take. */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, type Page } from '@playwright/test';
import { Matrix4 } from 'three';
import { cameraWorld, MIRROR_CAMERA } from '../../src/core/capture';
import { add, createGroup, createSolid, onAnchor, onPart, type Part, type SolidForm } from '../../src/core/piece';
import { meshOf } from '../../src/core/run';
import { program } from '../support/cli';
import { drawn, longTest, makePiece, saveEdits, signIn, site } from '../support/page';

const FRAME_S = 0.1;
/** Parts told apart by how many indices they are drawn with. */
const SHAPES: Readonly<Record<string, SolidForm>> = { cap: 'box', tail: 'disc', badge: 'cone', child: 'tube' };
const shapeOf = (form: SolidForm) => ({ form, sizeMm: [30, 20, 25] as [number, number, number], roundMm: 0, wallMm: 4, open: [] });
const solid = (id: string, set: Partial<Part> = {}) => ({ ...createSolid(id, id, shapeOf(SHAPES[id])), ...set }) as Part;
const offset = (x: number, y: number, z: number) =>
  ({ positionM: [x, y, z], turnRad: [0.2, -0.4, 0.1], size: [1, 1.5, 1] }) as Part['offset'];
const follow = (set: Partial<Part['follow']>) => ({
  place: true,
  yaw: true,
  pitch: true,
  roll: true,
  upright: false,
  size: null,
  trail: null,
  ...set,
});
const trail = { placeHalfLifeMs: 180, turnHalfLifeMs: 90, sizeHalfLifeMs: 0, deadZoneM: 0 };

/** Frames come a tenth of a second apart however busy the machine is, and the matrices that shapes are drawn with are noted. */
const instrument = (page: Page) =>
  page.addInitScript((frameMs) => {
    const w = window as unknown as { given: Record<number, number[]> };
    w.given = {};
    let now = 0;
    const ask = window.requestAnimationFrame.bind(window);
    window.requestAnimationFrame = (call) =>
      ask(() => {
        now += frameMs;
        call(now);
      });
    const gl = WebGL2RenderingContext.prototype;
    const names = new WeakMap<WebGLUniformLocation, { program: WebGLProgram; name: string }>();
    const values = new WeakMap<WebGLProgram, Record<string, number[]>>();
    let program: WebGLProgram | null = null;
    const { getUniformLocation, useProgram, uniformMatrix4fv, drawElements } = gl;
    gl.getUniformLocation = function (of, name) {
      const at = getUniformLocation.call(this, of, name);
      if (at) names.set(at, { program: of, name });
      return at;
    };
    gl.useProgram = function (p) {
      program = p;
      useProgram.call(this, p);
    };
    gl.uniformMatrix4fv = function (at: WebGLUniformLocation | null, transpose: boolean, data: Float32List, ...rest: number[]) {
      const known = at && names.get(at);
      if (known) values.set(known.program, { ...values.get(known.program), [known.name]: [...data] });
      return (uniformMatrix4fv as (...a: unknown[]) => void).call(this, at, transpose, data, ...rest);
    };
    gl.drawElements = function (mode, count, type, from) {
      const given = program && values.get(program);
      const mirror = document.querySelector<HTMLCanvasElement>('[data-view="mirror"]');
      const [, , width, height] = this.getParameter(this.VIEWPORT);
      // what is drawn for plates and the strip has other sizes
      if (given && mirror && width === mirror.width && height === mirror.height) w.given[count] = given.modelViewMatrix;
      return drawElements.call(this, mode, count, type, from);
    };
  }, FRAME_S * 1000);

longTest('the Mirror is given what a program is told, at every moment of a take', async ({ page }) => {
  const dir = mkdtempSync(join(tmpdir(), 'scaphos-mirror-'));
  await instrument(page);
  await signIn(page);
  const piece = await makePiece(page, 'Given');
  const edits = [
    add('parts', { ...createGroup('group', 'Group', onAnchor('shoulders')), follow: follow({ trail }) } as Part),
    add('parts', solid('cap', { offset: offset(0, 0.14, 0), follow: follow({ pitch: false, roll: false }) })),
    add('parts', solid('tail', { offset: offset(0.05, -0.1, -0.1), follow: follow({ trail }) })),
    add('parts', solid('badge', { hang: onPart('group'), offset: offset(-0.08, 0.05, 0.1) })),
    add('parts', solid('child', { hang: onPart('tail'), offset: offset(0, 0.06, 0), follow: follow({ upright: true }) })),
  ];
  await saveEdits(page, piece, edits);
  const bundle = join(dir, 'P.zip');
  writeFileSync(bundle, await (await page.request.get(`${site()}/api/pieces/${piece}/packages/bundle`)).body());

  await page.goto(`${site()}/piece/${piece}/fit`);
  await drawn(page, 'mirror');
  await page.getByRole('combobox', { name: 'Take' }).selectOption('shoulder-sway');
  const view = cameraWorld(MIRROR_CAMERA);
  let compared = 0;
  for (let stop = 0; stop < 3; stop++) {
    await page.getByRole('button', { name: 'Play', exact: true }).click();
    const clock = page.locator('[data-take-time]');
    const before = (await clock.getAttribute('data-take-time')) as string;
    await expect(clock).not.toHaveAttribute('data-take-time', before);
    await page.getByRole('button', { name: 'Pause', exact: true }).click();
    await drawn(page, 'mirror');
    const timeS = Number(await clock.getAttribute('data-take-time'));
    const given = await page.evaluate(() => (window as unknown as { given: Record<number, number[]> }).given);
    const until = String(timeS);
    const told = await program(['run', bundle, '--take', 'shoulder-sway', '--until', until, '--rate', '10', '--json']);
    expect(told.code, told.stderr).toBe(0);
    const row = told.rows.find((r) => Math.abs(r.timeS - timeS) < 1e-6);
    for (const [id, form] of Object.entries(SHAPES)) {
      const world = view.clone().multiply(new Matrix4().fromArray(given[meshOf(shapeOf(form)).indices.length]));
      const wanted: number[] = row.parts[id].matrix;
      // single precision, and a metre from the camera
      for (const [i, v] of world.elements.entries()) expect(v, `${id} at ${timeS} s, element ${i}`).toBeCloseTo(wanted[i], 5);
      compared++;
    }
  }
  expect(compared).toBe(12);
  rmSync(dir, { recursive: true, force: true });
});
