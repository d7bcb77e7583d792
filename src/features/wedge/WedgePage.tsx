import { ArrowLeft } from 'lucide-react';
import { useMemo, useState } from 'react';
import type { Filament } from '#core/stack/filament.ts';
import { planOfSettings } from '../../state/wedge-project.ts';
import { Button } from '../../ui/Button.tsx';
import { Choice } from '../../ui/Choice.tsx';
import { ByEye } from './ByEye.tsx';
import { ByPhoto } from './ByPhoto.tsx';
import { MakeWedge } from './MakeWedge.tsx';
import { Swatch } from '../../ui/Swatch.tsx';
import { Spacer } from '../../ui/Row.tsx';
import styles from './Wedge.module.css';
import type { WedgePageProps } from './wedge-parts.ts';

const STAGES = [
  { value: 'make', text: '1 Print it' },
  { value: 'eye', text: '2 Read it by eye' },
  { value: 'photo', text: '2 Read it from a photo' },
] as const;
type Stage = (typeof STAGES)[number]['value'];

/** Measures one filament: prints a step wedge and reads it. */
export function WedgePage(props: WedgePageProps) {
  const { filament, filaments, grounds, settings } = props;
  const [stage, setStage] = useState<Stage>('make');
  const find = (id: string, fallback: Filament): Filament =>
    filaments.find((candidate) => candidate.id === id) ?? fallback;
  const white = find(settings.whiteId, grounds.white);
  const black = find(settings.blackId, grounds.black);
  const plan = useMemo(() => planOfSettings(settings, { white, black }), [settings, white, black]);
  const parts = { ...props, white, black, plan };
  return (
    <main className={styles.page}>
      <div className={styles.head}>
        <Button look="quiet" icon={<ArrowLeft size={16} aria-hidden />} onClick={props.onBack}>
          Rack
        </Button>
        <Swatch colour={filament.colour} widthPx={24} />
        <h1 className={styles.title}>
          Step wedge of {filament.name}
          {filament.maker ? `, ${filament.maker}` : ''}
        </h1>
        <Spacer />
        <Choice label="Step" value={stage} options={STAGES} onChange={setStage} />
      </div>
      {stage === 'make' ? <MakeWedge {...parts} /> : null}
      {stage === 'eye' ? <ByEye {...parts} /> : null}
      {stage === 'photo' ? <ByPhoto {...parts} /> : null}
    </main>
  );
}
