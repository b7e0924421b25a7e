/** A user's hands: every press, drag, typed value, chosen file and key counts as one action. */
import { expect, type Locator } from '@playwright/test';

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
