import { mkdirSync, writeFileSync } from 'node:fs';
import { type Browser, KEYS } from './webdriver';

const PATIENCE = 60_000;

/** Asks again until what is asked for is there. */
async function until<T>(browser: Browser, what: string, expression: string): Promise<NonNullable<T>> {
  const begun = Date.now();
  for (;;) {
    const value = await browser.evaluate<T | null>(expression);
    if (value) return value;
    if (Date.now() - begun > PATIENCE) {
      const shown = await browser.evaluate<string>('document.body.innerText.slice(0, 600)');
      throw new Error(`${what} did not come within ${PATIENCE / 1000} seconds. The page shows: ${shown}`);
    }
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
}

const quoted = JSON.stringify;
const shows = (browser: Browser, text: string) =>
  until(browser, `“${text}”`, `document.body.innerText.includes(${quoted(text)})`);

/** Clicks on the middle of the first thing of a kind whose text or name matches. */
async function press(browser: Browser, selector: string, pattern = ''): Promise<void> {
  const place = `(() => {
    const all = [...document.querySelectorAll(${quoted(selector)})];
    const one = all.find((e) => new RegExp(${quoted(pattern)}).test((e.getAttribute('aria-label') ?? '') + ' ' + e.innerText) && e.getClientRects().length && !e.disabled);
    if (!one) return null;
    one.scrollIntoView({ block: 'nearest' });
    const { left, top, width, height } = one.getBoundingClientRect();
    return [left + width / 2, top + height / 2];
  })()`;
  const [x, y] = await until<[number, number]>(browser, `${selector} “${pattern}”`, place);
  await browser.click(x, y);
}

/** Goes to a stop of the course; a click that came while the page was drawn anew is made again. */
async function goTo(browser: Browser, stop: string): Promise<void> {
  for (let tries = 0; tries < 5; tries++) {
    await press(browser, STOP, `^ ?${stop}`);
    for (let i = 0; i < 30; i++) {
      if (await browser.evaluate<boolean>(`document.querySelector('h1')?.innerText === ${quoted(stop)}`))
        return;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
  }
  throw new Error(`${stop} was not reached by its link.`);
}

/** Saves the plan; a click that came while the field was closing is made again. */
async function save(browser: Browser): Promise<void> {
  for (let tries = 0; tries < 5; tries++) {
    await press(browser, 'main button', 'Save and change');
    for (let i = 0; i < 50; i++) {
      if (await browser.evaluate<boolean>(`!document.body.innerText.includes('changed, not saved')`)) return;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
  }
  throw new Error('The plan was not saved.');
}

const STOP = 'nav[aria-label="The course"] a';
const ROW = '[role=rowgroup] [role=row]';

/**
 * Opens the demo, searches, opens a docket, looks ahead with a plan and saves it, takes it back, reloads: the
 * way through Sampan that every browser must go.
 * @returns what was done, for the record
 */
export async function walk(browser: Browser, address: string, folder: string): Promise<string[]> {
  const done: string[] = [];
  const note = (what: string) => done.push(what);
  const picture = async (name: string) => {
    mkdirSync(folder, { recursive: true });
    writeFileSync(
      `${folder}/${browser.name.toLowerCase()}-${name}.png`,
      Buffer.from(await browser.picture(), 'base64'),
    );
  };
  await browser.open(`${address}/today`);
  await until(
    browser,
    'Today',
    `document.querySelector('h1')?.innerText === 'Today' && document.querySelectorAll('main li').length > 0`,
  );
  note(await browser.evaluate<string>(`document.querySelector('footer').innerText.replaceAll('\\n', ', ')`));

  await goTo(browser, 'Source');
  await until(browser, 'rows of the catalogue', `document.querySelectorAll(${quoted(ROW)}).length > 3`);
  await press(browser, 'input[type=search]');
  await browser.type('category:"Optics > Filters" moon');
  const matches = await until<string>(
    browser,
    'matches',
    `/[1-9]\\d* match/.exec(document.body.innerText)?.[0]`,
  );
  await until(
    browser,
    'the terms',
    `document.querySelectorAll('[aria-label^="Remove "]').length === 1 && document.querySelector('input[type=search]').value === 'moon'`,
  );
  note(`search: ${matches}`);
  await press(browser, ROW);
  await until(browser, 'the docket', `(document.querySelector('aside')?.innerText.length ?? 0) > 100`);
  await until(
    browser,
    'its pictures',
    `(() => { const all = [...document.querySelectorAll('aside img')]; return all.length > 0 && all.every((i) => i.complete && i.naturalWidth > 0); })()`,
  );
  await picture('source');

  await goTo(browser, 'Pricing');
  await press(browser, 'main button', 'Margin: ');
  await until(
    browser,
    'the field',
    `document.activeElement?.tagName === 'INPUT' || [...document.querySelectorAll('label')].some((l) => l.innerText === 'Margin')`,
  );
  await press(browser, 'input[inputmode=decimal]');
  await browser.type('a', KEYS.control);
  await browser.type(`31${KEYS.enter}`);
  await shows(browser, 'What would happen');
  await browser.type(KEYS.escape);
  await save(browser);
  note('plan looked ahead and saved');
  await press(browser, 'h1');
  await browser.type('z', KEYS.control);
  await shows(browser, 'Undone');
  await until(
    browser,
    'the plan before',
    `[...document.querySelectorAll('main button')].every((b) => !/31 %/.test(b.innerText))`,
  );
  note('undone');
  await picture('pricing');

  await browser.open(`${address}/listings?q=is%3Alive`);
  const live = await until<string>(
    browser,
    'live listings',
    `/[1-9]\\d* match/.exec(document.body.innerText)?.[0]`,
  );
  // WebKitGTK now and then forgets to abort transactions of a page that is left within its first second.
  await new Promise((resolve) => setTimeout(resolve, 2_000));
  await browser.open(`${address}/listings?q=is%3Alive`);
  const again = await until<string>(
    browser,
    'the same after a reload',
    `/[1-9]\\d* match/.exec(document.body.innerText)?.[0]`,
  );
  if (again !== live) throw new Error(`${live} before the reload, ${again} after it`);
  note(`reloaded: ${again}`);
  return done;
}
