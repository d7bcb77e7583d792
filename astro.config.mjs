import node from '@astrojs/node';
import react from '@astrojs/react';
import { defineConfig } from 'astro/config';

export default defineConfig({
  output: 'static',
  adapter: node({ mode: 'middleware' }),
  integrations: [react()],
  devToolbar: { enabled: false },
  build: { inlineStylesheets: 'never' },
  vite: {
    // Everything stays a file of its own: the security policy allows no data: scripts or fonts.
    build: { assetsInlineLimit: 0 },
    worker: { format: 'es' },
  },
});
