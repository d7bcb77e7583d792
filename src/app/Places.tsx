import styles from './App.module.css';
import { GCODE_PATH, goTo, PRINTERS_PATH, RACK_PATH, SHELF_PATH, type Route } from './route.ts';

const PLACES = [
  { place: 'shelf', path: SHELF_PATH, text: 'Shelf' },
  { place: 'rack', path: RACK_PATH, text: 'Rack' },
  { place: 'printers', path: PRINTERS_PATH, text: 'Printers' },
  { place: 'gcode', path: GCODE_PATH, text: 'G-code desk' },
] as const;

/** The places outside projects. */
export function Places({ at }: { readonly at: Route['place'] }) {
  return (
    <nav className={styles.places} aria-label="Places">
      {PLACES.map(({ place, path, text }) => (
        <a
          key={place}
          href={path}
          aria-current={place === at ? 'page' : undefined}
          onClick={(event) => {
            if (event.metaKey || event.ctrlKey || event.shiftKey) return;
            event.preventDefault();
            goTo(path);
          }}
        >
          {text}
        </a>
      ))}
    </nav>
  );
}
