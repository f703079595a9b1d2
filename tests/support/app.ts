import { spawn, type ChildProcess } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import puppeteer, {
  type Browser,
  type BrowserContext,
  type ElementHandle,
  type KeyInput,
  type Page,
  type Target,
} from 'puppeteer-core';
import { afterAll, afterEach, beforeAll, beforeEach, inject } from 'vitest';
import { freePort } from '../../scripts/lib/processes.mjs';
import { emptyDatabase } from './database';

const root = fileURLToPath(new URL('../..', import.meta.url));
const serverFile = `${root}apps/server/dist/main.js`;
const webRoot = `${root}apps/web/dist`;

/** The built server as a process of its own, on a database of its own, with the demo loaded. */
export class RunningApp {
  readonly backupFolder = mkdtempSync(join(tmpdir(), 'idle-step-backups-'));
  private child: ChildProcess | null = null;
  private constructor(
    private readonly databaseUrl: string,
    readonly port: number,
    private readonly withDemo: boolean,
  ) {}

  static async start(serverUrl: string, { withDemo = true } = {}): Promise<RunningApp> {
    if (!existsSync(serverFile) || !existsSync(`${webRoot}/index.html`))
      throw new Error('Not built yet: npm run build, or run the whole of npm test');
    const app = new RunningApp(await emptyDatabase(serverUrl), await freePort(), withDemo);
    await app.up();
    if (withDemo) await app.unguardSteps();
    return app;
  }

  /** Every step of the demo counts, however soon: tests press faster than feet. */
  private async unguardSteps(): Promise<void> {
    for (const { doc, version } of await this.get<{ doc: { id: string }; version: number }[]>('/rigs'))
      await fetch(`${this.base}/api/rigs/${doc.id}`, {
        method: 'PUT',
        headers: { 'Content-Type': 'application/json', 'If-Match': `"${version}"` },
        body: JSON.stringify({ ...doc, stepGuardMs: 0 }),
      });
  }

  get base(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  async up(): Promise<void> {
    const child = spawn(process.execPath, [serverFile], {
      env: {
        ...process.env,
        DATABASE_URL: this.databaseUrl,
        PORT: String(this.port),
        WEB_ROOT: webRoot,
        WITH_DEMO: this.withDemo ? '1' : '0',
        BACKUP_FOLDER: this.backupFolder,
      },
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    this.child = child;
    let said = '';
    await new Promise<void>((resolve, reject) => {
      const hear = (data: Buffer) => {
        said += String(data);
        if (said.includes('listening')) resolve();
      };
      child.stdout.on('data', hear);
      child.stderr.on('data', hear);
      child.once('exit', () => reject(new Error(`The server ended: ${said}`)));
    });
  }

  /** Ends the server at once, as a power cut would. */
  async kill(): Promise<void> {
    const { child } = this;
    if (!child || child.exitCode !== null || child.signalCode !== null) return;
    const gone = new Promise((resolve) => child.once('exit', resolve));
    child.kill('SIGKILL');
    await gone;
  }

  async get<T>(path: string): Promise<T> {
    return (await (await fetch(`${this.base}/api${path}`)).json()) as T;
  }
}

/** Nothing is said by how long it takes: a test that waits in vain ends at last, on a busy computer too. In ms. */
const PATIENCE_MS = 60_000;

/** What keeps a window that is not seen as quick as one that is; people's browsers start without. */
const UNTHROTTLED = [
  '--disable-background-timer-throttling',
  '--disable-backgrounding-occluded-windows',
  '--disable-renderer-backgrounding',
];

/**
 * @param isThrottled a hidden window is slowed down, as it is for people.
 * @param profile the folder in which the browser keeps what it keeps; without it nothing outlives it.
 */
export async function openBrowser({
  isThrottled = false,
  profile,
}: { isThrottled?: boolean; profile?: string } = {}): Promise<Browser> {
  const browser = await puppeteer.launch({
    ignoreDefaultArgs: isThrottled ? UNTHROTTLED : [],
    executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
    headless: true,
    ...(profile === undefined ? {} : { userDataDir: profile }),
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      // The address bar draws two pages of its own in each new window, on the processors that the page is measured on.
      '--disable-features=WebUIOmniboxPopup,WebUIOmniboxAimPopup',
    ],
  });
  const wait = async (target: Target) => (await target.page())?.setDefaultTimeout(PATIENCE_MS);
  // A window that is closed at once has no page any more.
  browser.on('targetcreated', (target) => void wait(target).catch(() => undefined));
  return browser;
}

/** The storages in use, with the addresses that were opened in them. */
const inUse = new Map<BrowserContext, Set<string>>();
/** Those that are empty again, by browser: what it has read and compiled for one serves the next. */
const emptied = new WeakMap<Browser, BrowserContext[]>();

async function emptyStorage(context: BrowserContext, bases: ReadonlySet<string>): Promise<void> {
  for (const page of await context.pages()) await page.close();
  const page = await context.newPage();
  const session = await page.createCDPSession();
  for (const origin of bases)
    await session.send('Storage.clearDataForOrigin', { origin, storageTypes: 'all' });
  await page.close();
}

/** Closes the windows that were opened since, but not those of `kept`. */
async function closeWindows(browser: Browser, kept: ReadonlySet<BrowserContext>): Promise<void> {
  for (const [context, bases] of inUse) {
    if (kept.has(context) || context.browser() !== browser) continue;
    inUse.delete(context);
    if (context.closed) continue;
    await emptyStorage(context, bases);
    emptied.set(browser, [...(emptied.get(browser) ?? []), context]);
  }
}

/** A page of the application. What goes wrong in it is kept in `troubles`. */
type OpenPage = Page & { troubles: string[] };

/**
 * A window with storage of its own, in which the floor and the monitor were left open. It has no idle time: what a page
 * does then (fetching its other places, keeping the application, warming up) takes as long as all that is tested.
 *
 * @param isFirstVisit nothing was chosen yet: both open and fold by themselves.
 * @param hasIdleTime the window does all that people's do.
 */
export async function openPage(
  browser: Browser,
  base: string,
  path: string,
  before?: (page: Page) => Promise<unknown>,
  { isFirstVisit = false, hasIdleTime = false } = {},
): Promise<OpenPage> {
  const context = emptied.get(browser)?.pop() ?? (await browser.createBrowserContext());
  inUse.set(context, (inUse.get(context) ?? new Set()).add(base));
  const page = Object.assign(await context.newPage(), { troubles: [] as string[] });
  await page.setViewport({ width: 1280, height: 800 });
  page.on('pageerror', (error) => page.troubles.push(String(error)));
  page.on('console', (message) => {
    // A refused request is part of some tests; the browser itself logs those.
    const isRefused = ['Failed to load resource', 'when fetching the script'].some((said) =>
      message.text().includes(said),
    );
    if (message.type() === 'error' && !isRefused) page.troubles.push(message.text());
  });
  if (!isFirstVisit) await page.evaluateOnNewDocument(leaveOpen);
  if (!hasIdleTime) await page.evaluateOnNewDocument(neverIdle);
  await before?.(page);
  await page.goto(base + path);
  return page;
}

function leaveOpen(): void {
  const key = 'idle-step.screen';
  try {
    if (localStorage.getItem(key) === null)
      localStorage.setItem(key, JSON.stringify({ dock: 'open', monitor: 'open' }));
  } catch {
    // Some tests take the storage away.
  }
}

function neverIdle(): void {
  window.requestIdleCallback = () => 0;
  ServiceWorkerContainer.prototype.register = () => Promise.reject(new Error('not in this window'));
}

/** Waits until a condition in the page holds; says what was there instead when it never does. */
export async function until<T>(
  what: string,
  read: () => Promise<T>,
  holds: (value: T) => boolean,
  timeoutMs = PATIENCE_MS,
): Promise<T> {
  const end = Date.now() + timeoutMs;
  for (;;) {
    const value = await read();
    if (holds(value)) return value;
    if (Date.now() > end) throw new Error(`${what}: still ${JSON.stringify(value)} after ${timeoutMs} ms`);
    await new Promise((resolve) => setTimeout(resolve, 40));
  }
}

/** The visible text of an element, `null` when it is not there. */
export const textOf = (page: Page, selector: string): Promise<string | null> =>
  page.evaluate(
    (s) => document.querySelector<HTMLElement>(s)?.innerText.replace(/\s+/g, ' ').trim() ?? null,
    selector,
  );

export const textIs = (
  page: Page,
  selector: string,
  holds: (text: string) => boolean,
  withinMs?: number,
): Promise<string | null> =>
  until(
    selector,
    () => textOf(page, selector),
    (text) => text !== null && holds(text),
    withinMs,
  );

/** Chooses an option of a labelled list by its visible text, once it is there; one that is found by typing is typed. */
export async function choose(page: Page, label: string, text: string): Promise<void> {
  const field = await until(
    `a list “${label}”`,
    () => labelled(page, label),
    (found) => found !== null,
  );
  if ((await field?.evaluate((e) => e.getAttribute('role'))) === 'combobox')
    return chooseTyped(page, field!, text);
  const choice = () =>
    page.evaluate(
      (l, t) => {
        const id = [...document.querySelectorAll('label')]
          .find((x) => x.textContent === l)
          ?.getAttribute('for');
        const select = document.getElementById(id ?? '') as HTMLSelectElement | null;
        const option = [...(select?.options ?? [])].find((o) => o.text === t);
        if (!select || !option) return select ? [...select.options].map((o) => o.text) : 'no such list';
        const set = Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value')!.set!;
        set.call(select, option.value);
        select.dispatchEvent(new Event('change', { bubbles: true }));
        return null;
      },
      label,
      text,
    );
  await until(`“${text}” in “${label}”`, choice, (missing) => missing === null);
}

/** The field that a label names, or `null`. */
async function labelled(page: Page, label: string): Promise<ElementHandle<HTMLElement> | null> {
  const handle = await page.evaluateHandle((l) => {
    const id = [...document.querySelectorAll('label')].find((x) => x.textContent === l)?.getAttribute('for');
    return document.getElementById(id ?? '');
  }, label);
  return handle.asElement() as ElementHandle<HTMLElement> | null;
}

async function chooseTyped(page: Page, field: ElementHandle<HTMLElement>, text: string): Promise<void> {
  await field.click({ count: 3 });
  await page.keyboard.type(text);
  const first = () => textOf(page, '.found-menu li.in-hand');
  await until(`“${text}” in the list`, first, (found) => found === text);
  await page.keyboard.press('Enter');
}

/** Types into a labelled field in place of what is there, and presses a key. */
export async function fill(
  page: Page,
  label: string,
  text: string,
  key: 'Enter' | 'Tab' = 'Enter',
): Promise<void> {
  // Letters that come later are wider: what is below them moves away from where the mouse goes.
  await page.evaluate(async () => void (await document.fonts.ready));
  // What moves between a look and a click is clicked again, as by a person who sees that the caret is not there.
  const hasCaret = async () => {
    const input = await labelled(page, label);
    if (!input) throw new Error(`no field “${label}”`);
    await input.click({ count: 3 });
    return input.evaluate((field) => document.activeElement === field);
  };
  await until(`the caret in “${label}”`, hasCaret, (has) => has);
  await page.keyboard.press('Backspace');
  await page.keyboard.type(text);
  await page.keyboard.press(key);
}

export async function pressButton(page: Page, name: string): Promise<void> {
  await page.locator(`::-p-aria([name="${name}"][role="button"])`).click();
}

/** Holds back requests of a page until they are let through, as a slow server does. */
export class HeldRequests {
  private waits: (() => void)[] = [];
  private isOver = false;

  /** @param held which addresses wait. */
  constructor(private readonly held: RegExp) {}

  readonly hold = async (page: Page): Promise<void> => {
    await page.setRequestInterception(true);
    page.on('request', (request) => {
      const go = () => void request.continue();
      if (!this.isOver && this.held.test(request.url())) this.waits.push(go);
      else go();
    });
  };

  letCome(): void {
    this.isOver = true;
    this.waits.splice(0).forEach((go) => go());
  }
}

/** The application with the demo and a browser, for all tests of a file. */
export function useApp(): { app: RunningApp; browser: Browser } {
  const running = {} as { app: RunningApp; browser: Browser };
  beforeAll(async () => {
    running.app = await RunningApp.start(inject('databaseUrl'));
    running.browser = await openBrowser();
  });
  let kept: ReadonlySet<BrowserContext> = new Set();
  beforeEach(() => {
    kept = new Set(inUse.keys());
  });
  afterEach(() => closeWindows(running.browser, kept));
  afterAll(async () => {
    await running.browser.close();
    await running.app.kill();
    rmSync(running.app.backupFolder, { recursive: true, force: true });
  });
  return running;
}

/**
 * One window for all tests of a group, where opening the page is not what is tested.
 * @returns brings it to an address, as a link of the page does.
 */
export function usePage(running: { app: RunningApp; browser: Browser }): (path: string) => Promise<OpenPage> {
  let page: OpenPage;
  beforeAll(async () => {
    page = await openPage(running.browser, running.app.base, '/rigs');
    await page.waitForSelector('h1');
  });
  afterAll(() => page.close());
  return async (path) => {
    await page.evaluate((to) => {
      window.history.pushState(null, '', to);
      window.dispatchEvent(new PopStateEvent('popstate'));
    }, path);
    return page;
  };
}

/** What stands in a labelled field. */
export const valueOf = (page: Page, label: string): Promise<string> =>
  page.evaluate((l) => {
    const id = [...document.querySelectorAll('label')].find((x) => x.textContent === l)!.getAttribute('for')!;
    return (document.getElementById(id) as HTMLInputElement).value;
  }, label);

/** Presses several keys as one. Example: `chord(page, 'Control', 'Shift', 'Z')`. */
export async function chord(page: Page, ...keys: readonly KeyInput[]): Promise<void> {
  for (const key of keys) await page.keyboard.down(key);
  for (const key of [...keys].reverse()) await page.keyboard.up(key);
}
