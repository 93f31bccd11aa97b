// A small client of the WebDriver protocol (W3C), enough to look at pages through ChromeDriver.
import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const pause = (ms) => new Promise((done) => setTimeout(done, ms));

export async function openBrowser({ port, width = 1280, height = 800 }) {
  const profile = mkdtempSync(join(tmpdir(), 'able-lark-browser-'));
  const driver = spawn('/usr/bin/chromedriver', [`--port=${port}`], { stdio: 'ignore' });
  const base = `http://127.0.0.1:${port}`;
  for (let i = 0; ; i++) {
    const ready = await fetch(`${base}/status`).then((r) => r.ok, () => false);
    if (ready) break;
    if (i > 100) throw new Error('ChromeDriver did not start.');
    await pause(100);
  }
  const args = ['--headless=new', '--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--hide-scrollbars',
    '--disable-background-networking', '--disable-component-update', '--disable-sync', '--disable-dev-shm-usage', `--user-data-dir=${profile}`];
  const call = async (method, path, body) => {
    const response = await fetch(base + path, { method, body: body === undefined ? undefined : JSON.stringify(body) });
    const { value } = await response.json();
    if (!response.ok) throw new Error(`${path}: ${value.message}`);
    return value;
  };
  const { sessionId } = await call('POST', '/session', {
    capabilities: { alwaysMatch: { browserName: 'chrome', timeouts: { script: 120_000 }, 'goog:chromeOptions': { binary: '/usr/bin/chromium', args } } },
  });
  const at = (method, path, body) => call(method, `/session/${sessionId}${path}`, body);
  const cdp = (cmd, params) => at('POST', '/goog/cdp/execute', { cmd, params });
  await cdp('Emulation.setDeviceMetricsOverride', { width, height, deviceScaleFactor: 1, mobile: false });

  const run = (script, ...values) => at('POST', '/execute/sync', { script, args: values });
  /** Waits until the script's value is true. */
  const until = async (script, what = script) => {
    for (let i = 0; i < 200; i++) {
      if (await run(`return Boolean(${script})`)) return;
      await pause(50);
    }
    throw new Error(`Waited in vain for: ${what}`);
  };
  return {
    run,
    until,
    cdp,
    pause,
    go: (url) => at('POST', '/url', { url }),
    click: async (css) => {
      await until(`document.querySelector(${JSON.stringify(css)})`);
      const [element] = await at('POST', '/elements', { using: 'css selector', value: css });
      await at('POST', `/element/${Object.values(element)[0]}/click`, {});
    },
    type: async (css, text) => {
      await until(`document.querySelector(${JSON.stringify(css)})`);
      const [element] = await at('POST', '/elements', { using: 'css selector', value: css });
      await at('POST', `/element/${Object.values(element)[0]}/value`, { text });
    },
    clickText: async (text) => {
      const xpath = `//*[self::button or self::a or @role='menuitem'][normalize-space()=${JSON.stringify(text)}]`;
      await until(`document.evaluate(${JSON.stringify(xpath)}, document, null, 9, null).singleNodeValue`, text);
      const [element] = await at('POST', '/elements', { using: 'xpath', value: xpath });
      await at('POST', `/element/${Object.values(element)[0]}/click`, {});
    },
    shot: async (file) => writeFileSync(file, Buffer.from(await at('GET', '/screenshot'), 'base64')),
    close: async () => {
      await at('DELETE', '').catch(() => {});
      const ended = new Promise((done) => driver.once('exit', done));
      driver.kill();
      await ended;
      rmSync(profile, { recursive: true, force: true, maxRetries: 3 });
    },
  };
}
