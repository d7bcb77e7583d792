import { expect } from 'chai';
import { By, Key } from 'selenium-webdriver';
import { PLACES } from '../helpers/demo.ts';
import {
  axeFaults,
  find,
  findButton,
  findCss,
  pointUntil,
  readCanvas,
  readPrint,
  settled,
  shareSession,
  until,
  type Session,
  soon,
} from './browser.ts';
import { openDemo, QUICK_SEARCH } from './fixtures.ts';
import { FindPanel } from './pages/find-panel.ts';
import { inSlice } from '../helpers/slices.ts';

describe('finding a stack on screen', function () {
  this.timeout(600_000);
  let session: Session;
  let panel: FindPanel;

  before(async () => {
    session = await shareSession();
    panel = new FindPanel(session);
  });
  beforeEach(() =>
    openDemo(session, 'Veil nebula', 'stack', {
      change: inSlice('heights', { rule: 'closest' }),
      ...QUICK_SEARCH,
    }),
  );
  after(async () => {
    await session.close();
  });

  it('begins at once, shows the best so far on the stage, and ends with a stack for each number of swaps', async () => {
    const { driver } = session;
    const before = await readPrint(driver);
    await panel.open();
    await until(
      driver,
      async () => (await panel.state()).startsWith('best so far'),
      'something is found',
    );
    await until(driver, async () => (await readPrint(driver)) !== before, 'it is on the stage');
    await panel.ended();
    await soon(() => panel.stacks()).to.be.at.least(5);
    await findCss(driver, '[data-testid=find-curve] svg');
    await soon(() => axeFaults(session)).to.deep.equal([]);
    const best = await readPrint(driver);
    const rows = await driver.findElements(By.css('[data-testid=found-stack]'));
    await pointUntil(
      driver,
      rows[0] ?? expect.fail(),
      async () => (await readPrint(driver)) !== best,
      'what is pointed at is shown',
    );
    await (await findButton(driver, 'Compare with the present stack on the wipe')).click();
    await until(
      driver,
      async () =>
        JSON.stringify((await readCanvas(driver, 'version-canvas', PLACES)).pixels) === before,
      'the present stack is on the left',
    );
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await (await findButton(driver, 'Close')).click();
    await until(driver, async () => (await readPrint(driver)) === before, 'nothing was changed');
    await soon(() => driver.findElements(By.css('[data-testid=version-canvas]'))).to.have.length(0);
  });

  it('can be stopped; what was found by then is used as one step and undone', async () => {
    const { driver } = session;
    const before = await panel.settledError();
    const kept = await readPrint(driver);
    await panel.open();
    await (await findCss(driver, '[aria-label="How much to look"] option[value="10"]')).click();
    await panel.ended();
    await (await findButton(driver, 'Look again')).click();
    await until(
      driver,
      async () => (await panel.state()).startsWith('best so far'),
      'something is found',
    );
    await (await findButton(driver, 'Stop, take the best so far')).click();
    await until(driver, async () => (await panel.stacks()) === 1, 'the best so far is offered');
    await (await findButton(driver, 'Use the stack with best so far')).click();
    await until(driver, async () => (await panel.error()) < before, 'the error is less');
    await panel.undo();
    await until(driver, async () => (await readPrint(driver)) === kept, 'it was one step');
    // How long one likes to wait is remembered.
    await driver.navigate().refresh();
    await settled(driver);
    await panel.open();
    const effort = await findCss(driver, '[aria-label="How much to look"]');
    await soon(() => effort.getProperty('value')).to.equal('10');
    await panel.press(Key.ESCAPE);
  });

  it('improves the present stack and leaves a locked band as it is', async () => {
    const { driver } = session;
    const before = await panel.settledError();
    await (await findButton(driver, 'Band C')).click();
    await (await findButton(driver, 'Lock layers and filament')).click();
    await panel.open();
    await panel.ended();
    await (await findButton(driver, 'Improve this one')).click();
    await until(
      driver,
      async () => (await panel.state()).startsWith('best so far'),
      'it is running',
    );
    await panel.ended();
    await (await findButton(driver, 'Use the stack with 4 swaps')).click();
    await until(driver, async () => (await panel.error()) <= before, 'the error is no more');
    const locked = await findCss(driver, '[data-testid=section] [aria-label=locked]');
    const label = await locked.findElement(By.xpath('..'));
    await soon(() => label.getText()).to.equal('Beet');
    await panel.undo();
    await panel.undo();
  });

  it('keeps to swaps, pins and rule, and says what cannot be', async () => {
    const { driver } = session;
    await panel.open();
    await panel.ended();
    const fill = async (testId: string, value: string): Promise<void> => {
      await (await find(driver, testId)).sendKeys(Key.chord(Key.CONTROL, 'a'), value, Key.ENTER);
    };
    await fill('find-swaps', '1');
    await (await findCss(driver, '[aria-label="How much to look"] option[value="1"]')).click();
    await (await findCss(driver, '[role=dialog] summary')).click();
    const wish = async (name: string, value: string): Promise<void> => {
      await (
        await findCss(driver, `[aria-label="What to do with ${name}"] option[value="${value}"]`)
      ).click();
    };
    await wish('Rust', 'must');
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await (await findButton(driver, 'Look again')).click();
    await panel.ended();
    const words = await driver.findElements(By.css('[data-testid=found-stack] span[role=img]'));
    expect(words.length).to.be.at.least(1);
    for (const one of words) await soon(() => one.getAttribute('aria-label')).to.contain('Rust');
    await wish('Soot', 'must');
    await wish('Midnight', 'must');
    await (await findButton(driver, 'Look again')).click();
    const told = await findCss(driver, '[role=dialog] [role=alert]');
    await soon(() => told.getText()).to.contain('3 filaments must be in the stack');
    await (await findButton(driver, 'Close')).click();
    await panel.choose('tone');
    await driver.actions().sendKeys(Key.ESCAPE, 's').perform();
    await panel.ended();
    await (await findButton(driver, 'Use the stack with 3 swaps')).click();
    await find(driver, 'curve-point-2');
  });

  it('importance is painted by pointer and key, undone, and draws the next search to what was painted', async () => {
    const { driver } = session;
    await panel.open();
    await panel.ended();
    const figures = await (await find(driver, 'found-figures')).getText();
    expect(figures).to.match(/^\d+ layers, \d\.\d\d mm \([+-]\d\.\d\d\)/);
    await findCss(driver, '[data-testid=found-picture][data-drawn]');
    const plain = await panel.said();
    await (await findButton(driver, 'Look again')).click();
    await panel.ended();
    // The same search gives the same words.
    await soon(() => panel.said()).to.equal(plain);
    await (await findButton(driver, 'Matters more')).click();
    const area = await find(driver, 'stage-area');
    await driver
      .actions()
      .move({ origin: area, x: -200, y: -100 })
      .press()
      .move({ origin: area, x: -80, y: -60 })
      .move({ origin: area, x: 60, y: 40 })
      .release()
      .perform();
    const strokes = async (): Promise<string | null> =>
      (await find(driver, 'importance')).getAttribute('data-strokes');
    await soon(() => strokes()).to.equal('1');
    await (await findButton(driver, 'Matters less')).click();
    await area.sendKeys(Key.ARROW_RIGHT, Key.ARROW_RIGHT, Key.SPACE);
    await soon(() => strokes()).to.equal('2');
    await soon(() => axeFaults(session)).to.deep.equal([]);
    await panel.undo();
    await soon(() => strokes()).to.equal('1');
    // Escape puts the brush down first, and closes nothing.
    await area.sendKeys(Key.ESCAPE);
    await soon(() => driver.findElements(By.css('[data-testid=importance]'))).to.have.length(0);
    await (await findButton(driver, 'Look again')).click();
    await panel.ended();
    // Errors are means by weight, so they differ even where the same stack is found.
    await soon(() => panel.said()).not.to.equal(plain);
    await (await findButton(driver, 'Clear')).click();
    await (await findButton(driver, 'Close')).click();
  });
});
