import { SwatchBook } from 'lucide-react';
import { chooseForMood, MOODS, type Mood } from '#core/stack/moods.ts';
import { useProject } from '../../state/project-context.ts';
import { Menu } from '../../ui/Menu.tsx';
import { toast } from '../../ui/toast.ts';

const NAMES: Readonly<Record<Mood, string>> = {
  greys: 'Greys',
  warm: 'Warm',
  sea: 'Sea',
  woods: 'Woods',
  night: 'Night',
  blossom: 'Blossom',
};

/** Begins the stack from a mood that is made of the maker's own rack; what is missing for it is named. */
export function MoodMenu() {
  const project = useProject();
  const begin = async (mood: Mood): Promise<void> => {
    const { filaments } = chooseForMood(mood, project.rack);
    if (filaments.length < 2) {
      toast('A mood wants at least two filaments on hand. Put more into the rack.');
      return;
    }
    const { beginWell } = await import('../../state/first-stack.ts');
    project.views.setState({ looking: true });
    const taken = await beginWell(project, filaments);
    project.views.setState({ looking: false });
    if (!taken)
      toast(
        'The stack stays as it is: it was changed in the meantime, or nothing better was found.',
      );
  };
  return (
    <Menu
      label="Begin from a mood"
      trigger={<SwatchBook size={16} aria-hidden />}
      items={() =>
        MOODS.map((mood) => {
          const { filaments, missing } = chooseForMood(mood, project.rack);
          const what = missing.length > 0 ? `; wants ${missing.join(', ')}` : '';
          return {
            text: `${NAMES[mood]}: ${filaments.length} of yours${what}`,
            icon: <SwatchBook size={15} aria-hidden />,
            onSelect: () => {
              void begin(mood);
            },
          };
        })
      }
    />
  );
}
