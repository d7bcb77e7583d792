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
  startSession,
  until,
  type Session,
  settled,
} from './browser.ts';
import { openDemo } from './fixtures.ts';

describe('finding a stack on screen', function () {
  this.timeout(600_000);
  let session: Session;

  before(async () => {
    session = await startSession();
  });
  beforeEach(() =>
    openDemo(session, 'Veil nebula', 'stack', (document) => ({
      ...document,
      heightRule: 'closest',
    })),
  );
  after(async () => {
    await session.close();
  });

  const error = async (): Promise<number> =>
    Number(
      await until(
        session.driver,
        async () =>
          /\d+\.\d/.exec(await (await find(session.driver, 'ledger-error')).getText())?.[0],
        'the colour error is known',
      ),
    );
  /** The colour error once it follows from what is shown. */
  const settledError = async (): Promise<number> => {
    await settled(session.driver);
    return error();
  };
  const state = async (): Promise<string> => (await find(session.driver, 'find-state')).getText();
  const stacks = async (): Promise<number> =>
    (await session.driver.findElements(By.css('[data-testid=found-stack]'))).length;
  const ended = (): Promise<boolean> =>
    until(
      session.driver,
      async () => /^best: colour error \d/.test(await state()) && (await stacks()) > 0,
      'the search has ended',
    );
  const print = (): Promise<string> => readPrint(session.driver);

  it('begins at once, shows the best so far on the stage, and ends with a stack for each number of swaps', async () => {
    const { driver } = session;
    const before = await print();
    await (await findButton(driver, 'Find a stack')).click();
    await until(
      driver,
      async () => (await state()).startsWith('best so far'),
      'something is found',
    );
    await until(driver, async () => (await print()) !== before, 'it is on the stage');
    await ended();
    expect(await stacks()).to.be.at.least(5);
    await findCss(driver, '[data-testid=find-curve] svg');
    expect(await axeFaults(session)).to.deep.equal([]);
    const best = await print();
    const rows = await driver.findElements(By.css('[data-testid=found-stack]'));
    await pointUntil(
      driver,
      rows[0] ?? expect.fail(),
      async () => (await print()) !== best,
      'what is pointed at is shown',
    );
    await (await findButton(driver, 'Compare with the present stack on the wipe')).click();
    await until(
      driver,
      async () =>
        JSON.stringify((await readCanvas(driver, 'version-canvas', PLACES)).pixels) === before,
      'the present stack is on the left',
    );
    expect(await axeFaults(session)).to.deep.equal([]);
    await (await findButton(driver, 'Close')).click();
    await until(driver, async () => (await print()) === before, 'nothing was changed');
    expect(await driver.findElements(By.css('[data-testid=version-canvas]'))).to.have.length(0);
  });

  it('can be stopped; what was found by then is used as one step and undone', async () => {
    const { driver } = session;
    const before = await settledError();
    const kept = await print();
    await (await findButton(driver, 'Find a stack')).click();
    await (await findCss(driver, '[aria-label="How much to look"] option[value="10"]')).click();
    await ended();
    await (await findButton(driver, 'Look again')).click();
    await until(
      driver,
      async () => (await state()).startsWith('best so far'),
      'something is found',
    );
    await (await findButton(driver, 'Stop, take the best so far')).click();
    await until(driver, async () => (await stacks()) === 1, 'the best so far is offered');
    await (await findButton(driver, 'Use the stack with best so far')).click();
    await until(driver, async () => (await error()) < before, 'the error is less');
    await (await findButton(driver, 'Undo')).click();
    await until(driver, async () => (await print()) === kept, 'it was one step');
  });

  it('improves the present stack and leaves a locked band as it is', async () => {
    const { driver } = session;
    const before = await settledError();
    await (await findButton(driver, 'Band C')).click();
    await (await findButton(driver, 'Lock layers and filament')).click();
    await (await findButton(driver, 'Find a stack')).click();
    await ended();
    await (await findButton(driver, 'Improve this one')).click();
    await until(driver, async () => (await state()).startsWith('best so far'), 'it is running');
    await ended();
    await (await findButton(driver, 'Use the stack with 4 swaps')).click();
    await until(driver, async () => (await error()) <= before, 'the error is no more');
    const locked = await findCss(driver, '[data-testid=section] [aria-label=locked]');
    const label = await locked.findElement(By.xpath('..'));
    expect(await label.getText()).to.equal('Beet');
    await (await findButton(driver, 'Undo')).click();
    await (await findButton(driver, 'Undo')).click();
  });

  it('keeps to swaps, pins and rule, and says what cannot be', async () => {
    const { driver } = session;
    await (await findButton(driver, 'Find a stack')).click();
    await ended();
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
    expect(await axeFaults(session)).to.deep.equal([]);
    await (await findButton(driver, 'Look again')).click();
    await ended();
    const words = await driver.findElements(By.css('[data-testid=found-stack] span[role=img]'));
    expect(words.length).to.be.at.least(1);
    for (const one of words) expect(await one.getAttribute('aria-label')).to.contain('Rust');
    await wish('Soot', 'must');
    await wish('Midnight', 'must');
    await (await findButton(driver, 'Look again')).click();
    const told = await findCss(driver, '[role=dialog] [role=alert]');
    expect(await told.getText()).to.contain('3 filaments must be in the stack');
    await (await findButton(driver, 'Close')).click();
    await (await find(driver, 'choice-tone')).click();
    await driver.actions().sendKeys(Key.ESCAPE, 's').perform();
    await ended();
    await (await findButton(driver, 'Use the stack with 3 swaps')).click();
    await find(driver, 'curve-point-2');
  });

  it('importance is painted by pointer and key, undone, and draws the next search to what was painted', async () => {
    const { driver } = session;
    await (await findButton(driver, 'Find a stack')).click();
    await ended();
    const figures = await (await find(driver, 'found-figures')).getText();
    expect(figures).to.match(/^\d+ layers, \d\.\d\d mm \([+-]\d\.\d\d\)/);
    await findCss(driver, '[data-testid=found-picture][data-drawn]');
    /** Every stack found with its error, layers and grams: the same search gives the same words. */
    const said = async (): Promise<string> => (await find(driver, 'found-stacks')).getText();
    const plain = await said();
    await (await findButton(driver, 'Look again')).click();
    await ended();
    expect(await said()).to.equal(plain);
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
    expect(await strokes()).to.equal('1');
    await (await findButton(driver, 'Matters less')).click();
    await area.sendKeys(Key.ARROW_RIGHT, Key.ARROW_RIGHT, Key.SPACE);
    expect(await strokes()).to.equal('2');
    expect(await axeFaults(session)).to.deep.equal([]);
    await (await findButton(driver, 'Undo')).click();
    expect(await strokes()).to.equal('1');
    // Escape puts the brush down first, and closes nothing.
    await area.sendKeys(Key.ESCAPE);
    expect(await driver.findElements(By.css('[data-testid=importance]'))).to.have.length(0);
    await (await findButton(driver, 'Look again')).click();
    await ended();
    // Errors are means by weight, so they differ even where the same stack is found.
    expect(await said()).not.to.equal(plain);
    await (await findButton(driver, 'Clear')).click();
    await (await findButton(driver, 'Close')).click();
  });
});
