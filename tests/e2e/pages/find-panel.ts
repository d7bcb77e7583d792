import { By } from 'selenium-webdriver';
import { findButton, until } from '../browser.ts';
import { Bench } from './bench.ts';

/** The search for a stack, laid beside the stage. */
export class FindPanel extends Bench {
  async open(): Promise<void> {
    await (await findButton(this.driver, 'Find a stack')).click();
  }

  state(): Promise<string> {
    return this.read('find-state');
  }

  /** How many stacks are offered. */
  stacks(): Promise<number> {
    return this.count('found-stack');
  }

  async ended(): Promise<void> {
    await until(
      this.driver,
      async () => /^best: colour error \d/.test(await this.state()) && (await this.stacks()) > 0,
      'the search has ended',
    );
  }

  /** Every stack found with its error, layers and grams, once the grams are weighed as well. */
  async said(): Promise<string> {
    await until(
      this.driver,
      async () => {
        const figures = await this.driver.findElements(By.css('[data-testid=found-figures]'));
        const told = await Promise.all(figures.map((one) => one.getText()));
        return told.length > 0 && told.every((text) => text.endsWith(' g'));
      },
      'every stack found is weighed',
    );
    return this.read('found-stacks');
  }
}
