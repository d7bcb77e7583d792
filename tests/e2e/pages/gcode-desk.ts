import { By, Key } from 'selenium-webdriver';
import { find, findCss, until, type Session } from '../browser.ts';

/** The G-code desk as its user has it. */
export class GcodeDeskPage {
  constructor(private readonly session: Session) {}

  /** Opens a sliced file by its field. */
  async open(path: string): Promise<void> {
    await (await find(this.session.driver, 'gcode-file')).sendKeys(path);
  }

  /** What the file is compared with, by the list of swaps it came with. */
  async compare(path: string): Promise<void> {
    await (await find(this.session.driver, 'swaps-file')).sendKeys(path);
  }

  async facts(): Promise<string> {
    return (await find(this.session.driver, 'desk-facts')).getText();
  }

  /** Waits for facts that fit. */
  shows(words: RegExp): Promise<unknown> {
    return until(
      this.session.driver,
      async () => {
        const [facts] = await this.session.driver.findElements(By.css('[data-testid=desk-facts]'));
        return facts ? words.test(await facts.getText()) : false;
      },
      `facts like ${String(words)}`,
    );
  }

  /** Codes of what is found, causes first. */
  async findings(): Promise<string[]> {
    const list = await findCss(
      this.session.driver,
      '[data-testid=findings], [data-testid=desk-sound]',
    );
    if ((await list.getAttribute('data-testid')) === 'desk-sound') return [];
    const items = await list.findElements(By.css('li'));
    return Promise.all(items.map(async (one) => (await one.getAttribute('data-code')) ?? ''));
  }

  /** Presses keys in the list of layers. */
  async keysOnLayers(...keys: string[]): Promise<void> {
    const list = await find(this.session.driver, 'layer-list');
    for (const key of keys) await list.sendKeys(key);
  }

  async layerNow(): Promise<string> {
    return (await find(this.session.driver, 'layer-now')).getText();
  }

  async hereIs(): Promise<string> {
    const here = await findCss(this.session.driver, '[data-testid=text-around] [data-here=true]');
    return here.getText();
  }
}

export const DOWN = Key.ARROW_DOWN;
