import cometUrl from './art/comet-cut-out.png?url';
import skyUrl from './art/comet-in-the-sky.png?url';
import craterUrl from './art/crater-study.png?url';
import badgeUrl from './art/dome-badge.png?url';
import duskUrl from './art/dome-at-dusk.png?url';
import lockerUrl from './art/locker-7.png?url';
import stripUrl from './art/test-strip.png?url';
import veilUrl from './art/veil-nebula.png?url';
import cometThumb from './thumbs/comet-cut-out.webp?url';
import skyThumb from './thumbs/comet-in-the-sky.webp?url';
import craterThumb from './thumbs/crater-study.webp?url';
import badgeThumb from './thumbs/dome-badge.webp?url';
import duskThumb from './thumbs/dome-at-dusk.webp?url';
import keyTagThumb from './thumbs/dome-key-tag.webp?url';
import boxLidThumb from './thumbs/eyepiece-box-lid.webp?url';
import lockerTagThumb from './thumbs/locker-7-tag.webp?url';
import nameTagsThumb from './thumbs/name-tags.webp?url';
import lockerThumb from './thumbs/locker-7.webp?url';
import stripThumb from './thumbs/test-strip.webp?url';
import veilThumb from './thumbs/veil-nebula.webp?url';

/** Where the demo pictures and their thumbnails are served. */
export const DEMO_ASSETS: Readonly<
  Record<string, { readonly url: string; readonly thumb: string }>
> = {
  'comet-cut-out': { url: cometUrl, thumb: cometThumb },
  'comet-in-the-sky': { url: skyUrl, thumb: skyThumb },
  'crater-study': { url: craterUrl, thumb: craterThumb },
  'dome-badge': { url: badgeUrl, thumb: badgeThumb },
  'dome-at-dusk': { url: duskUrl, thumb: duskThumb },
  'locker-7': { url: lockerUrl, thumb: lockerThumb },
  'test-strip': { url: stripUrl, thumb: stripThumb },
  'veil-nebula': { url: veilUrl, thumb: veilThumb },
};

/** Thumbnails of the demo tags. */
export const TAG_THUMBS: Readonly<Record<string, string>> = {
  'dome-key-tag': keyTagThumb,
  'eyepiece-box-lid': boxLidThumb,
  'locker-7-tag': lockerTagThumb,
  'name-tags': nameTagsThumb,
};
