import { find, findButton, findCss, type Session } from '../browser.ts';

/** The rack: the table of filaments, their forms, and the step wedge. */
export class RackPage {
  constructor(private readonly session: Session) {}

  async open(): Promise<void> {
    await this.session.driver.get(`${this.session.address}/rack`);
    await findCss(this.session.driver, '[data-filament]');
  }

  /** Ids of the filaments that are drawn, from the top down. */
  async shownIds(): Promise<string[]> {
    return this.session.driver.executeScript(
      `return [...document.querySelectorAll('tbody [data-filament]')]
         .sort((a, b) => Number(a.ariaRowIndex) - Number(b.ariaRowIndex)).map((row) => row.dataset.filament);`,
    );
  }

  async cellText(id: string, column: string): Promise<string> {
    const css = `[data-filament="${id}"] [data-column="${column}"]`;
    return (await findCss(this.session.driver, css)).getText();
  }

  async importFile(path: string): Promise<void> {
    await (await find(this.session.driver, 'rack-file')).sendKeys(path);
  }

  async openFilament(name: string): Promise<void> {
    await (await findButton(this.session.driver, `Open ${name}`)).click();
  }

  /** Takes one way of a choice, by the label of the choice: how a wedge is read, which step of it is at hand. */
  async choose(label: string, choice: string): Promise<void> {
    await (
      await findCss(this.session.driver, `[aria-label="${label}"] [data-testid=choice-${choice}]`)
    ).click();
  }
}
