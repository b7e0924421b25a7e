/** A user's hands: every press, drag, typed value, chosen file and key counts as one action. */
import { expect, type Locator, type Page } from '@playwright/test';
import { Vector3 } from 'three';
import { type Offset, offsetRotation } from '../../src/core/math';
import { type Delivery, deliveredAs } from '../support/delivery';

export class User {
  actions = 0;
  constructor(private readonly journey: string) {}

  async press(target: Locator): Promise<void> {
    this.actions++;
    await target.click();
  }

  async type(target: Locator, text: string): Promise<void> {
    this.actions++;
    await target.fill(text);
  }

  async choose(target: Locator, value: string): Promise<void> {
    this.actions++;
    await target.selectOption(value);
  }

  async chooseFile(target: Locator, file: { name: string; mimeType: string; buffer: Buffer }): Promise<void> {
    this.actions++;
    await target.setInputFiles(file);
  }

  /** Prints the count and holds it to its bound. */
  finish(bound: number): void {
    console.log(`journey ${this.journey}: ${this.actions} actions`);
    expect(this.actions, `actions of ${this.journey}`).toBeLessThanOrEqual(bound);
  }
}

/**
 * What is delivered wrong, made as large as one reads that it should be, turned back until it stands, and typed to where its middle belongs.
 * @param back turns that bring it upright, as their buttons are called @param wantM where its middle comes to lie, in the frame it hangs in
 */
export async function putRight(
  page: Page,
  user: User,
  wrong: Delivery,
  back: readonly string[],
  offset: () => Promise<Offset>,
  wantM: readonly [number, number, number],
): Promise<void> {
  const typed = async (name: string, value: string) => {
    const field = page.getByRole('textbox', { name });
    await user.type(field, value);
    await field.press('Enter');
  };
  const factor = 0.001 / wrong.unitPerMm;
  await typed('Size side', String(factor));
  for (const turn of back) await user.press(page.getByRole('button', { name: turn, exact: true }));
  const middle = new Vector3()
    .setFromMatrixPosition(deliveredAs(wrong))
    .multiplyScalar(factor)
    .applyQuaternion(offsetRotation(await offset()));
  for (const [k, axis] of ['side', 'up', 'fore'].entries())
    await typed(`Place ${axis}`, ((wantM[k] - middle.getComponent(k)) * 1000).toFixed(2));
}
/** The button of the turn that undoes so many quarters about an axis; none where there are none. */
export const turnBack = (axis: 'side' | 'up', quarters: number): string[] =>
  quarters > 0 ? [`Turn ${axis} ${['', '−90°', '180°', '+90°'][quarters]}`] : [];
