/** `npm run demo`: installs what is missing, builds, and starts the app with the demo data. */
import { build, installPackages, ROOT } from './setup.mjs';

installPackages();
if (!build()) process.exit(1);
const { startServer } = await import(`${ROOT}/dist/server/serve.mjs`);
const wanted = Number(process.env.PORT ?? 4310);
const { address } = await startServer({ port: wanted }).catch((error) => {
  if (error.code !== 'EADDRINUSE') throw error;
  // Another one is running already; any free port will do.
  return startServer({ port: 0 });
});
process.stdout.write(`\nZesty Strata is at ${address}\nStop it with Ctrl+C.\n`);
