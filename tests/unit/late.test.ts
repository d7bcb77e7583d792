import { expect } from 'chai';
import { Cancelled } from '#core/base/checkpoint.ts';
import { setCalm } from '../../src/state/edits/height-edits.ts';
import { OwnSlicer } from '../../src/state/own-slicer.ts';
import { sliceKey } from '../../src/state/slice-plan.ts';
import { markPlaced, toast, toastPlace } from '../../src/ui/toast.ts';
import type { ExportWorker } from '../../src/workers/start-worker.ts';
import { testDocument } from '../helpers/documents.ts';

/** What loads late: whoever asks for it meanwhile is not forgotten, and who no longer wants it gets nothing. */
describe('what loads late', () => {
  it('what is told before there is a place for it is told there, in order, and asks for that place', async () => {
    const told: string[] = [];
    const show = Object.assign((text: string) => told.push(text), {
      error: (text: string) => told.push(`error: ${text}`),
    });
    expect(toastPlace.getState().wanted).to.equal(false);
    toast('The rack was saved.');
    toast.error('The picture is empty.');
    expect(toastPlace.getState().wanted).to.equal(true);
    await Promise.resolve();
    expect(told).to.deep.equal([]);
    const waiting = ['The rack was saved.', 'The picture is empty.'];
    expect(toastPlace.getState().waiting).to.deep.equal(waiting);
    markPlaced(show as unknown as Parameters<typeof markPlaced>[0]);
    await Promise.resolve();
    expect(told).to.deep.equal(['The rack was saved.', 'error: The picture is empty.']);
    expect(toastPlace.getState().waiting).to.deep.equal([]);
    toast('All is well.');
    await Promise.resolve();
    expect(told.at(-1)).to.equal('All is well.');
    expect(toastPlace.getState().waiting).to.deep.equal([]);
  });

  /** An exporter that notes what it is asked for and never answers, unless it is told to stop. */
  function exporter() {
    const asked: string[] = [];
    let heard: () => void = () => undefined;
    /** Fulfilled when it is asked the next time. */
    const next = (): Promise<void> =>
      new Promise((resolve) => {
        heard = resolve;
      });
    const worker = {
      run: (name: string, _: unknown, { signal }: { readonly signal: AbortSignal }) => {
        asked.push(name);
        heard();
        return new Promise((_resolve, reject) => {
          signal.addEventListener('abort', () => {
            reject(new Cancelled());
          });
        });
      },
    };
    return { asked, next, worker: worker as unknown as ExportWorker };
  }

  it('a slice that is given up while its parts are loaded is not begun', async () => {
    const { asked, worker } = exporter();
    const slicer = new OwnSlicer(worker);
    const making = slicer.make(testDocument());
    slicer.cancel();
    await making;
    expect(asked).to.deep.equal([]);
    expect(slicer.store.getState()).to.deep.equal({ making: null, failed: null, slice: null });
  });

  it('of two states asked for one after the other the last one is made, once', async () => {
    const { asked, next, worker } = exporter();
    const slicer = new OwnSlicer(worker);
    const first = testDocument();
    const last = setCalm(0.5)(first);
    expect(sliceKey(last)).not.to.equal(sliceKey(first));
    const made = next();
    const early = slicer.make(first);
    const making = slicer.make(last);
    const again = slicer.make(last);
    await made;
    // Those that were overtaken have ended with nothing; which of the two of one state goes on is all the same.
    await Promise.race([early, making, again]);
    expect(asked).to.deep.equal(['counts']);
    expect(slicer.store.getState().making).to.equal(0);
    // Back at the first one: what is on its way is given up.
    const anew = next();
    const back = slicer.make(first);
    await anew;
    expect(asked).to.deep.equal(['counts', 'counts']);
    slicer.cancel();
    await Promise.all([early, making, again, back]);
    expect(slicer.store.getState()).to.deep.equal({ making: null, failed: null, slice: null });
  });
});
