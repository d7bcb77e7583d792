import { useEffect, useRef, useState } from 'react';
import { parseHex, type Triple } from '#core/colour/srgb.ts';
import type { Ramp } from '#core/optics/ramp.ts';
import { rampSeen } from '../../state/room-light.ts';
import { useProject } from '../../state/project-context.ts';
import { smoothMmOfDocument, stackOf } from '../../state/document-facts.ts';
import { faceOfDocument } from '../../state/tag-plan.ts';
import type { ProjectDocument } from '../../state/project-document.ts';
import { SolidScene, type LayerLook } from './solid-scene.ts';
import styles from './Stage.module.css';

/** Most samples that the solid is drawn with: software rendering must turn it smoothly. */
const SOLID_SAMPLES = 160_000;

const NO_COLOUR: Triple = [128, 128, 128];

function looksOf(ramp: Ramp, document: ProjectDocument): LayerLook[] {
  const { bands, filaments } = document.stack;
  const inlays = faceOfDocument(document)?.inlays.filaments ?? [];
  return ramp.map(({ colour, bandIndex }) => {
    // Inlays come after all bands.
    const id = bands[bandIndex]?.filamentId ?? inlays[bandIndex - bands.length];
    const filament = filaments[id ?? ''];
    return { seen: colour, side: parseHex(filament?.colour ?? '') ?? NO_COLOUR };
  });
}

/** The relief in 3D in its predicted colours; dragged to turn, with the keys as well. */
export function SolidView() {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { live, views, worker, documents } = useProject();
  const [trouble, setTrouble] = useState<string | null>(null);

  useEffect(() => {
    const element = canvas.current;
    const area = element?.parentElement;
    if (!element || !area) return;
    /** What is under way: a shape that is asked for, and a picture that is to be drawn. */
    let busy = false;
    let drawing = false;
    const tellDrawing = (): void => {
      const now = busy || drawing;
      if (views.getState().drawing !== now) views.setState({ drawing: now });
    };
    let scene: SolidScene;
    try {
      scene = new SolidScene(element, (now) => {
        drawing = now;
        tellDrawing();
      });
    } catch {
      setTrouble(
        'This browser does not draw in 3D (WebGL 2 is missing or switched off). All other views go on working.',
      );
      return;
    }
    let closed = false;
    /** What the shape follows from, as it was last asked for. */
    let asked: readonly unknown[] = [];
    const wanted = (): readonly unknown[] => {
      const document = live.store.getState().lens(documents.getState().document);
      const { request } = live.store.getState();
      // Of a piece of outlines every band is a solid of its own.
      const { grid, bands } = document.stack;
      return [request, grid, smoothMmOfDocument(document), request?.piece ? bands : null];
    };
    const upToDate = (): boolean => wanted().every((one, i) => one === asked[i]);
    const recolour = (): void => {
      const document = live.store.getState().lens(documents.getState().document);
      scene.setLooks(
        looksOf(rampSeen(live.store.getState().ramp, views.getState().light), document),
        document.stack.grid,
      );
    };
    const reshape = (): void => {
      const { request } = live.store.getState();
      const document = live.store.getState().lens(documents.getState().document);
      if (!request || busy || upToDate()) return;
      busy = true;
      tellDrawing();
      asked = wanted();
      worker
        .run('solid', {
          request,
          stack: stackOf(document),
          mostSamples: SOLID_SAMPLES,
          smoothMm: smoothMmOfDocument(document),
        })
        .then((shape) => {
          if (!closed) scene.setShape(shape);
        })
        .catch((error: unknown) => {
          if (!closed) setTrouble(error instanceof Error ? error.message : String(error));
        })
        .finally(() => {
          busy = false;
          if (closed) return;
          // What has changed meanwhile follows.
          reshape();
          tellDrawing();
        });
    };
    const applyLook = (): void => {
      const { solid } = views.getState();
      scene.setStretch(solid.stretch);
      scene.setWireframe(solid.wireframe);
    };
    recolour();
    reshape();
    applyLook();
    const observer = new ResizeObserver(([entry]) => {
      if (entry) scene.resize(entry.contentRect.width, entry.contentRect.height);
    });
    observer.observe(area);
    const unfollow = live.store.subscribe((state, before) => {
      if (state.ramp !== before.ramp) recolour();
      if (state.request !== before.request) reshape();
    });
    const unfollowDocument = documents.subscribe(reshape);
    const unwatch = views.subscribe(({ solid, light }, before) => {
      if (light !== before.light) recolour();
      if (solid === before.solid) return;
      applyLook();
      if (solid.resets !== before.solid.resets) scene.reset();
    });
    const onKeyDown = (event: KeyboardEvent): void => {
      if (event.ctrlKey || event.metaKey || event.altKey) return;
      const moves: Readonly<Record<string, () => void>> = {
        ArrowLeft: () => {
          scene.turn(-1, 0);
        },
        ArrowRight: () => {
          scene.turn(1, 0);
        },
        ArrowUp: () => {
          scene.turn(0, 1);
        },
        ArrowDown: () => {
          scene.turn(0, -1);
        },
        '+': () => {
          scene.approach(1.2);
        },
        '=': () => {
          scene.approach(1.2);
        },
        '-': () => {
          scene.approach(1 / 1.2);
        },
        '0': () => {
          scene.reset();
        },
      };
      const move = moves[event.key];
      if (!move) return;
      move();
      event.preventDefault();
    };
    element.addEventListener('keydown', onKeyDown);
    return () => {
      closed = true;
      element.removeEventListener('keydown', onKeyDown);
      observer.disconnect();
      unfollow();
      unfollowDocument();
      unwatch();
      scene.dispose();
      views.setState({ drawing: false });
    };
  }, [live, views, worker, documents]);

  return (
    <div className={styles.solid}>
      {trouble ? (
        <p className={styles.solidTrouble} role="alert">
          {trouble}
        </p>
      ) : null}
      <canvas
        ref={canvas}
        className={styles.solidCanvas}
        tabIndex={0}
        role="application"
        aria-label="The relief in 3D. Arrow keys turn it, plus and minus zoom, 0 puts it back."
        data-testid="solid-canvas"
      />
    </div>
  );
}
