import { find } from '../browser.ts';
import { Bench } from './bench.ts';

/** The swap sheet: the paper, the time, the calendar and *At the printer*. */
export class SheetStop extends Bench {
  async stamp(): Promise<string> {
    return /[0-9A-Z]{4}-[0-9A-Z]{4}/.exec(await this.read('swap-sheet'))?.[0] ?? 'none';
  }

  /** The time that is told, in minutes. */
  async minutes(): Promise<number> {
    const [, hours = '0', minutes = '0'] =
      /(?:(\d+) h )?(\d+) min/.exec(await this.read('sheet-summary')) ?? [];
    return 60 * Number(hours) + Number(minutes);
  }

  /** A moment typed into the field of date and time, which a browser takes only by its parts. */
  async beginAt(moment: string): Promise<void> {
    await this.driver.executeScript(
      `const [field, value] = arguments;
       Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(field, value);
       field.dispatchEvent(new Event('input', { bubbles: true }));`,
      await find(this.driver, 'starts-at'),
      moment,
    );
  }
}
