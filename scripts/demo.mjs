import { join } from 'node:path';
import { ROOT } from './lib/prepare.mjs';
import { runScript } from './lib/say.mjs';
import { serve } from './lib/serve.mjs';

/** The demo, beside the checkout's other throwaway data. */
await runScript(() =>
  serve({
    command: 'npm run demo',
    defaultPort: 4310,
    defaultFolder: join(ROOT, '.data', 'demo'),
    withDemo: true,
  }),
);
