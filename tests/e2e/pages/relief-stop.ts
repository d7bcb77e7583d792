import { find, findButton, pickOption, readDownload } from '../browser.ts';
import { Bench } from './bench.ts';
import { Key } from 'selenium-webdriver';

/** The relief stop: size, base, plate, holes, and the files. */
export class ReliefStop extends Bench {
  /** Types a value over the one of a field and enters it. */
  async fill(testId: string, value: string): Promise<void> {
    const field = await find(this.driver, testId);
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), value, Key.ENTER);
  }

  pick(testId: string, value: string): Promise<void> {
    return pickOption(this.driver, testId, value);
  }

  /** Width and height of the piece, as the ledger tells them. */
  async size(): Promise<string> {
    return (await this.ledger('size')).split('\n')[0] ?? '';
  }

  facts(): Promise<string> {
    return this.read('relief-facts');
  }

  /** Layers of the piece, by the facts of the relief. */
  async layers(): Promise<number> {
    return Number(/Layers\s+(\d+)/.exec(await this.facts())?.[1] ?? 0);
  }

  /** Saves the relief in a format whose button has a name, and reads the file. */
  async download(
    format: string,
    name: string,
    pattern: RegExp,
  ): Promise<{ name: string; bytes: Buffer }> {
    await this.pick('format', format);
    await (await findButton(this.driver, `Download ${name}`)).click();
    return readDownload(this.session, pattern);
  }
}
