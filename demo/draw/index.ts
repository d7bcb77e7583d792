import * as crater from './crater-study.ts';
import * as dome from './dome-at-dusk.ts';
import * as flat from './flat-pieces.ts';
import type { Shader } from './shading.ts';
import * as veil from './veil-nebula.ts';

/** A picture of the demo world, drawn by code. */
export interface DemoArtwork {
  readonly file: string;
  readonly width: number;
  readonly height: number;
  readonly shader: () => Shader;
}

/** All pictures. */
export const DEMO_ARTWORKS: readonly DemoArtwork[] = [
  { file: 'dome-at-dusk', width: dome.WIDTH, height: dome.HEIGHT, shader: dome.domeAtDusk },
  { file: 'veil-nebula', width: veil.WIDTH, height: veil.HEIGHT, shader: veil.veilNebula },
  { file: 'crater-study', width: crater.WIDTH, height: crater.HEIGHT, shader: crater.craterStudy },
  { file: 'dome-badge', width: flat.BADGE_SIZE, height: flat.BADGE_SIZE, shader: flat.domeBadge },
  {
    file: 'comet-cut-out',
    width: flat.COMET_WIDTH,
    height: flat.COMET_HEIGHT,
    shader: flat.cometCutOut,
  },
  {
    file: 'comet-in-the-sky',
    width: flat.COMET_WIDTH,
    height: flat.COMET_HEIGHT,
    shader: flat.cometInSky,
  },
  {
    file: 'locker-7',
    width: flat.LOCKER_WIDTH,
    height: flat.LOCKER_HEIGHT,
    shader: flat.lockerSeven,
  },
  {
    file: 'test-strip',
    width: flat.STRIP_WIDTH,
    height: flat.STRIP_HEIGHT,
    shader: flat.testStrip,
  },
];
