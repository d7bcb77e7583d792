import { By, Key, type WebDriver } from 'selenium-webdriver';
import type { Stop } from '../../../src/state/view-store.ts';
import {
  find,
  findButton,
  findCss,
  readPrint,
  settled,
  typeOver,
  until,
  type Session,
} from '../browser.ts';

/** What every stop of the bench has: keys, commands, history, trail, ledger and stage. */
export class Bench {
  constructor(protected readonly session: Session) {}

  protected get driver(): WebDriver {
    return this.session.driver;
  }

  /** Presses keys one after the other, wherever the focus is. */
  async press(...keys: string[]): Promise<void> {
    await this.driver
      .actions()
      .sendKeys(...keys)
      .perform();
  }

  /** Presses a key together with Ctrl, and Shift if wanted. */
  async withCtrl(key: string, shift = false): Promise<void> {
    const actions = this.driver.actions().keyDown(Key.CONTROL);
    if (shift) actions.keyDown(Key.SHIFT);
    actions.sendKeys(key);
    if (shift) actions.keyUp(Key.SHIFT);
    await actions.keyUp(Key.CONTROL).perform();
  }

  /** Opens the list of commands. */
  async openCommands(): Promise<void> {
    await this.withCtrl('k');
    await find(this.driver, 'palette-input');
  }

  /** Gives a command by its name. */
  async command(name: string): Promise<void> {
    await this.openCommands();
    await this.press(name, Key.ENTER);
  }

  async undo(): Promise<void> {
    await (await findButton(this.driver, 'Undo')).click();
  }

  async redo(): Promise<void> {
    await (await findButton(this.driver, 'Redo')).click();
  }

  async goTo(stop: Stop): Promise<void> {
    await (await find(this.driver, `stop-${stop}`)).click();
  }

  /** Takes one of several choices that stand side by side: a view, a height rule, a tab. */
  async choose(choice: string): Promise<void> {
    await (await find(this.driver, `choice-${choice}`)).click();
  }

  /** What a part says, once it is there. */
  async read(testId: string): Promise<string> {
    return (await find(this.driver, testId)).getText();
  }

  /** Waits until a part says something like this. */
  async reads(testId: string, pattern: RegExp): Promise<void> {
    await until(
      this.driver,
      async () => pattern.test(await this.read(testId)),
      `${testId} reads like ${String(pattern)}`,
    );
  }

  /** What the ledger says of something. */
  ledger(fact: 'height' | 'swaps' | 'size' | 'error'): Promise<string> {
    return this.read(`ledger-${fact}`);
  }

  /** Waits until the ledger says something. */
  ledgerSays(fact: 'height' | 'swaps' | 'size' | 'error', pattern: RegExp): Promise<void> {
    return this.reads(`ledger-${fact}`, pattern);
  }

  /** The colour error that the ledger shows, once there is one. */
  async error(): Promise<number> {
    return Number(
      await until(
        this.driver,
        async () => /\d+\.\d/.exec(await this.ledger('error'))?.[0],
        'the colour error is known',
      ),
    );
  }

  /** The colour error once it follows from what is shown. */
  async settledError(): Promise<number> {
    await settled(this.driver);
    return this.error();
  }

  /** The print once all is worked out. */
  async settledPrint(): Promise<string> {
    await settled(this.driver);
    return readPrint(this.driver);
  }

  /** How many parts with a test id there are now. */
  async count(testId: string): Promise<number> {
    return (await this.driver.findElements(By.css(`[data-testid="${testId}"]`))).length;
  }

  async attribute(testId: string, name: string): Promise<string> {
    return (await (await find(this.driver, testId)).getAttribute(name)) ?? '';
  }

  /** Whatever has the focus, by its label, test id, id or text. */
  async focused(): Promise<string> {
    return this.driver.executeScript(
      `const { activeElement: one } = document;
       return one === document.body ? 'body' : one.getAttribute('aria-label') || one.dataset.testid || one.id || one.textContent.trim() || one.tagName;`,
    );
  }

  /** Waits until something has the focus. */
  async hasFocus(name: string | RegExp, what = 'the focus is there'): Promise<void> {
    await until(
      this.driver,
      async () => {
        const now = await this.focused();
        return typeof name === 'string' ? now === name : name.test(now);
      },
      what,
    );
  }

  // The section, which stands at the stops before the sheet.

  /** The layer that the upper edge of a band lies on. */
  async edgeLayer(letter: string): Promise<number> {
    return Number(await this.attribute(`edge-${letter}`, 'aria-valuenow'));
  }

  /** Moves the upper edge of a band by its keys. */
  async nudge(letter: string, ...keys: string[]): Promise<void> {
    await (await find(this.driver, `edge-${letter}`)).sendKeys(...keys);
  }

  // The relief stop, as far as other stops are judged by it.

  /** Prints the base in thicker layers up to a height, mm; the relief stop is open. */
  async thickenBase(untilMm: string, layerMm: string): Promise<void> {
    const { driver } = this;
    if ((await this.attribute('base-section', 'open')) === '')
      await (await findCss(driver, '[data-testid=base-section] summary')).click();
    await typeOver(driver, 'base-until', untilMm);
    await typeOver(driver, 'base-layer', layerMm);
    await (await findButton(driver, 'Print the base in these')).click();
  }
}
