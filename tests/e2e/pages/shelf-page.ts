import { By, Key } from 'selenium-webdriver';
import { chooseFrom, find, findButton, findCss, type Session } from '../browser.ts';

/** The shelf: projects, demos, and pictures that are dropped. */
export class ShelfPage {
  constructor(private readonly session: Session) {}

  async open(): Promise<void> {
    await this.session.driver.get(this.session.address);
    await find(this.session.driver, 'file-input');
  }

  /** Names of the projects, as they stand. */
  async names(): Promise<string[]> {
    const cards = await this.session.driver.findElements(By.css('[data-testid=project-card]'));
    return Promise.all(cards.map(async (card) => (await card.getAttribute('data-name')) ?? ''));
  }

  async beginWith(demo: string): Promise<void> {
    await (await findButton(this.session.driver, `Begin with ${demo}`)).click();
  }

  async openProject(name: string): Promise<void> {
    await (await findButton(this.session.driver, `Open ${name}`)).click();
  }

  /** Takes an entry of the menu of a project's card. */
  async more(name: string, entry: string): Promise<void> {
    await chooseFrom(this.session.driver, `${name}: more`, entry);
  }

  /** Writes a new name into the field that *Rename* opens. */
  async typeName(name: string): Promise<void> {
    const field = await findCss(this.session.driver, 'input[aria-label="Name of the project"]');
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), name, Key.ENTER);
  }
}
