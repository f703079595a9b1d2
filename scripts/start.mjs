import { homedir } from 'node:os';
import { join } from 'node:path';
import { runScript } from './lib/say.mjs';
import { serve } from './lib/serve.mjs';

/** For every day: nothing but one's own, kept outside the checkout. */
await runScript(() =>
  serve({
    command: 'npm start',
    defaultPort: 4311,
    // Where a user's data belongs. Source: XDG Base Directory Specification.
    defaultFolder: join(process.env.XDG_DATA_HOME || join(homedir(), '.local', 'share'), 'idle-step'),
    withDemo: false,
  }),
);
