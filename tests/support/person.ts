import type { KeyInput, Page } from 'puppeteer-core';
import { choose, chord, fill } from './app';

/** A person at the page: each click, key, typed text and pick is one input. */
export class Person {
  inputs = 0;
  constructor(readonly page: Page) {}
  protected async did<T>(what: Promise<T>): Promise<T> {
    this.inputs++;
    return what;
  }
  press = (text: string) =>
    this.did(
      this.page.locator(`::-p-xpath(//*[self::button or self::a][normalize-space()="${text}"])`).click(),
    );
  click = (selector: string) => this.did(this.page.locator(selector).click());
  choose = (label: string, text: string) => this.did(choose(this.page, label, text));
  fill = (label: string, text: string) => this.did(fill(this.page, label, text));
  async type(text: string): Promise<void> {
    await this.did(this.page.keyboard.type(text));
    await this.did(this.page.keyboard.press('Enter'));
  }
  /** A text without Enter. */
  typeOnly = (text: string) => this.did(this.page.keyboard.type(text));
  key = (key: KeyInput) => this.did(this.page.keyboard.press(key));
  /** Keys pressed together are one input. */
  chord = (...keys: readonly KeyInput[]) => this.did(chord(this.page, ...keys));
  async withShift(...selectors: string[]): Promise<void> {
    await this.page.keyboard.down('Shift');
    for (const selector of selectors) await this.click(selector);
    await this.page.keyboard.up('Shift');
  }
  paste = (text: string) =>
    this.did(
      this.page.evaluate((t) => {
        const data = new DataTransfer();
        data.setData('text/plain', t);
        document.activeElement!.dispatchEvent(
          new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }),
        );
      }, text),
    );
}
