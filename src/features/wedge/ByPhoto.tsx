import { keptSpread } from '#core/wedge/edge-spread.ts';
import { ImageUp } from 'lucide-react';
import { useEffect, useState } from 'react';
import type { Quad } from '#core/wedge/straighten.ts';
import { groundColours } from '#core/wedge/wedge-relief.ts';
import {
  describePhotoDoubt,
  describePhotoFault,
  describePictureFault,
  describeWedgeFitFault,
} from '../../platform/fault-words.ts';
import type { OpenedPhoto, WedgePhotoAnswer } from '../../workers/photo/jobs.ts';
import { Button } from '../../ui/Button.tsx';
import { FileDrop } from '../../ui/FileDrop.tsx';
import { CornerPicker } from './CornerPicker.tsx';
import { FitReport } from './FitReport.tsx';
import { Note } from '../../ui/Note.tsx';
import { Row, Spacer } from '../../ui/Row.tsx';
import styles from './Wedge.module.css';
import { describeWedgeFault, today, type WedgePartProps } from './wedge-parts.ts';

interface Photo extends OpenedPhoto {
  readonly url: string;
}

/** Pause after the last move of a corner before the photo is read anew. */
const READ_DELAY_MS = 150;

/** Where the corners lie before anybody has put them: well inside, so that all four are in view. */
function firstCorners({ width, height }: OpenedPhoto): Quad {
  const x = width * 0.2;
  const y = height * 0.25;
  return [
    { x, y },
    { x: width - x, y },
    { x: width - x, y: height - y },
    { x, y: height - y },
  ];
}

/** Reads the wedge from a photo: corners, straightening, fit. */
export function ByPhoto(props: WedgePartProps) {
  const { filament, settings, plan, white, black, worker, loadDemo, onSettings, onSave } = props;
  const [photo, setPhoto] = useState<Photo | null>(null);
  const [corners, setCorners] = useState<Quad | null>(null);
  const [answer, setAnswer] = useState<WedgePhotoAnswer | null>(null);
  const [busy, setBusy] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [simulated, setSimulated] = useState(false);

  useEffect(
    () => () => {
      if (photo) URL.revokeObjectURL(photo.url);
    },
    [photo],
  );

  const take = async (
    name: string,
    bytes: Uint8Array<ArrayBuffer>,
  ): Promise<OpenedPhoto | null> => {
    setTrouble(null);
    setAnswer(null);
    setBusy(true);
    try {
      const opened = await worker.run('openPhoto', { bytes });
      if (!opened.ok) {
        setTrouble(`${name}: ${describePictureFault(opened.fault)}`);
        return null;
      }
      setPhoto({ ...opened.value, url: URL.createObjectURL(new Blob([bytes])) });
      setCorners(firstCorners(opened.value));
      return opened.value;
    } catch (error) {
      setTrouble(`${name}: ${error instanceof Error ? error.message : String(error)}`);
      return null;
    } finally {
      setBusy(false);
    }
  };

  const takeFile = async (file: File): Promise<void> => {
    setSimulated(false);
    try {
      await take(file.name, new Uint8Array(await file.arrayBuffer()));
    } catch {
      setTrouble(`${file.name}: The file cannot be read any more. Choose it again.`);
    }
  };

  const takeDemo = async (): Promise<void> => {
    try {
      const demo = await loadDemo();
      onSettings({ ...settings, ...demo.settings });
      if (!(await take('The simulated photo', demo.bytes))) return;
      setSimulated(true);
      setCorners(demo.corners.map(([x, y]) => ({ x, y })) as unknown as Quad);
    } catch (error) {
      setTrouble(
        `The simulated photo could not be loaded (${error instanceof Error ? error.message : String(error)}). Is the app still running?`,
      );
    }
  };

  // Newer corners make an answer on the way worthless, so it is dropped.
  useEffect(() => {
    if (!photo || !corners || !plan.ok || !plan.value.grounded) return;
    const abort = new AbortController();
    const timer = setTimeout(() => {
      setBusy(true);
      worker
        .run(
          'readPhoto',
          {
            corners,
            plan: plan.value,
            grounds: groundColours(plan.value, { white, black, tested: filament }),
            date: today(),
          },
          abort,
        )
        .then((next) => {
          setAnswer(next);
          setBusy(false);
        })
        .catch((error: unknown) => {
          if (abort.signal.aborted) return;
          setBusy(false);
          setTrouble(error instanceof Error ? error.message : String(error));
        });
    }, READ_DELAY_MS);
    return () => {
      clearTimeout(timer);
      abort.abort();
    };
  }, [photo, corners, plan, white, black, filament, worker]);

  if (!plan.ok) return <p role="alert">{describeWedgeFault(plan.fault)}</p>;
  if (!plan.value.grounded)
    return (
      <p role="alert" className={styles.view}>
        This wedge was planned without a ground, to be held against a light. A photo needs one over
        black and white: choose Photo under &quot;Print it&quot;.
      </p>
    );
  const read = answer?.read;
  const fit = answer?.fit;
  return (
    <FileDrop
      className={styles.photoSplit}
      onFile={(file) => void takeFile(file)}
      field={{ label: 'Photo of the wedge', testId: 'wedge-photo', accept: 'image/*' }}
    >
      {(_over, choose) => (
        <>
          <section className={styles.photoSide} aria-label="Photo">
            <Row>
              <span className={styles.says}>From above, in even light, on something dark</span>
              <Spacer />
              <Button onClick={() => void takeDemo()}>Try a simulated photo</Button>
              <Button look="main" icon={<ImageUp size={16} aria-hidden />} onClick={choose}>
                Choose a photo
              </Button>
            </Row>
            {trouble ? <p role="alert">{trouble}</p> : null}
            {photo && corners ? (
              <>
                <CornerPicker {...photo} corners={corners} onChange={setCorners} />
                <Note>
                  Put the corners on those of the print: 1 where the number 1 stands, then round
                  with the clock.
                </Note>
              </>
            ) : (
              <div className={styles.empty}>
                Drop a photo of the printed wedge here. It stays on this computer.
              </div>
            )}
          </section>
          <section className={styles.view} aria-label="Reading" aria-busy={busy}>
            {simulated ? (
              <Note>
                A simulated photo of a wedge of Rust from a spool whose label is wrong. Keep its
                value only for Rust.
              </Note>
            ) : null}
            {read && !read.ok ? (
              <p role="alert" data-testid="photo-fault">
                {describePhotoFault(read.fault)}
              </p>
            ) : null}
            {fit && !fit.ok ? (
              <p role="alert" data-testid="fit-fault">
                The photo can be read, but {describeWedgeFitFault(fit.fault)}
              </p>
            ) : null}
            {read?.ok && fit?.ok && answer?.straight ? (
              <FitReport
                filament={filament}
                plan={plan.value}
                fit={fit.value}
                doubts={read.value.doubts.map(describePhotoDoubt)}
                spread={read.value.spread}
                straight={answer.straight}
                slant={read.value.slant}
                onKeep={(withColour) => {
                  onSave({
                    ...filament,
                    ...(withColour ? { colour: fit.value.colour } : {}),
                    transmissionMm: Number(fit.value.transmissionMm.toFixed(3)),
                    basis: { kind: 'hiding' },
                    found: 'photo',
                    uncertainty: Number(fit.value.uncertainty.toFixed(4)),
                    scatterSlope: Number(fit.value.scatterSlope.toFixed(4)),
                    ...(read.value.spread ? { spreadMm: keptSpread(read.value.spread) } : {}),
                    reading: read.value.reading,
                  });
                }}
              />
            ) : null}
            {!answer && busy ? <p role="status">Reading the photo</p> : null}
            {!photo ? (
              <Note>
                The grounds are {white.name} and {black.name}, with {plan.value.stepsMm.length}{' '}
                steps up to {plan.value.stepsMm.at(-1)} mm, as planned under &quot;Print it&quot;.
              </Note>
            ) : null}
          </section>
        </>
      )}
    </FileDrop>
  );
}
