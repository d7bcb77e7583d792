import type { Outline } from '#core/tags/outline-kinds.ts';
import { DRAWN_OUTLINES, plainContour } from '#core/tags/plain-outlines.ts';
import styles from './Shelf.module.css';

/** A form to begin with, in a size that is usual for it. */
interface FirstForm {
  readonly name: string;
  readonly outline: Outline;
}

const form = (
  name: string,
  kind: Outline['kind'],
  widthMm: number,
  heightMm: number,
  cornerMm = 0,
): FirstForm => ({ name, outline: { kind, widthMm, heightMm, cornerMm } });

/** Forms of a new tag. Common practice, no source: 40 mm across. */
const FORMS: readonly FirstForm[] = [
  form('Disc', 'disc', 40, 40),
  form('Rounded', 'rounded', 60, 34, 5),
  form('Pill', 'pill', 64, 24),
  form('Rectangle', 'rectangle', 60, 30),
  form('Hexagon', 'hexagon', 44, 38),
  form('Heart', 'heart', 42, 40),
  form('Shield', 'shield', 40, 44),
  form('Drop', 'drop', 32, 44),
];

/** Longer side of a drawn form, px. */
const SIDE = 34;

/** What draws a form: a path, and how much larger it is to be. Reading drawn ones to the point takes more code than the shelf. */
function drawn({ kind, widthMm, heightMm, cornerMm }: Outline): { d: string; scale: number } {
  const path = DRAWN_OUTLINES[kind];
  if (path !== undefined) return { d: path, scale: SIDE / 100 };
  const line = plainContour(kind, widthMm, heightMm, cornerMm);
  const scale = SIDE / Math.max(widthMm, heightMm);
  const points: string[] = [];
  for (let n = 0; n < line.length; n += 2) {
    const [x, y] = [line[n] as number, line[n + 1] as number];
    points.push(`${(SIDE / 2 + x * scale).toFixed(2)} ${(SIDE / 2 - y * scale).toFixed(2)}`);
  }
  return { d: `M${points.join('L')}Z`, scale: 1 };
}

function Form({ d, scale }: { readonly d: string; readonly scale: number }) {
  return <path d={d} transform={`scale(${scale})`} fill="currentColor" />;
}

/** Begins a tag: a piece of outlines, lettering and holes, of one of a few forms. */
export function NewTag({
  onTag,
  disabled,
}: {
  readonly onTag: (outline: Outline) => void;
  readonly disabled: boolean;
}) {
  return (
    <section className={styles.newTag} aria-labelledby="new-tag">
      <div className={styles.dropText}>
        <strong id="new-tag">New tag</strong>
        <span>
          Crisp pieces of outlines, lettering and holes, in few colours. Begin with a form.
        </span>
      </div>
      <ul>
        {FORMS.map(({ name, outline }) => (
          <li key={name}>
            <button
              type="button"
              disabled={disabled}
              data-testid={`new-tag-${outline.kind}`}
              onClick={() => {
                onTag(outline);
              }}
            >
              <svg width={SIDE} height={SIDE} viewBox={`0 0 ${SIDE} ${SIDE}`} aria-hidden>
                <Form {...drawn(outline)} />
              </svg>
              {name}
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
