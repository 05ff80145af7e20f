import { execFileSync, spawn } from 'node:child_process';
import fs from 'node:fs';
import { PHONE, rest, type Driver } from './driver';

/** WebKit as Debian has it (webkit2gtk-driver, xvfb, scrot): the engine of iPhones, in a window of a screen that nobody sees, by its own driver (W3C WebDriver). */
const BROWSER = '/usr/lib/x86_64-linux-gnu/webkit2gtk-4.1/MiniBrowser';
const SCREEN = ':77';
const PORT = 4455;

export const hasWebkit = (): boolean => fs.existsSync(BROWSER) && ['Xvfb', 'WebKitWebDriver', 'scrot'].every((it) => fs.existsSync(`/usr/bin/${it}`));

/** @param shared whether the page may share memory between its workers; where not, it must do without. */
export async function webkit(shared: boolean): Promise<Driver> {
  const { width, height } = PHONE;
  const screen = spawn('Xvfb', [SCREEN, '-screen', '0', `${width + 200}x${height + 200}x24`], { stdio: 'ignore' });
  await rest(1500);
  const env = {
    ...process.env,
    DISPLAY: SCREEN,
    WEBKIT_DISABLE_COMPOSITING_MODE: '1',
    WEBKIT_DISABLE_SANDBOX_THIS_IS_DANGEROUS: '1',
    LIBGL_ALWAYS_SOFTWARE: '1',
    ...(shared && { JSC_useSharedArrayBuffer: '1' }),
  };
  const driver = spawn('WebKitWebDriver', [`--port=${PORT}`], { env, stdio: 'ignore' });
  await rest(1500);
  const call = async <T>(method: string, path: string, body?: unknown): Promise<T> => {
    const answer = await fetch(`http://127.0.0.1:${PORT}${path}`, {
      method,
      headers: { 'Content-Type': 'application/json' },
      ...(body !== undefined && { body: JSON.stringify(body) }),
    });
    const { value } = (await answer.json()) as { value: T & { error?: string; message?: string } };
    if (value?.error) throw new Error(`${value.error}: ${value.message}`);
    return value;
  };
  const capabilities = { alwaysMatch: { 'webkitgtk:browserOptions': { binary: BROWSER, args: ['--automation'] } } };
  const { sessionId } = await call<{ sessionId: string }>('POST', '/session', { capabilities });
  const at = `/session/${sessionId}`;
  await call('POST', `${at}/window/rect`, { width: width + 40, height: height + 56 });
  await call('POST', `${at}/timeouts`, { script: 60_000, pageLoad: 60_000 });
  return {
    name: `WebKit ${shared ? 'with' : 'without'} shared memory`,
    goto: (url) => call('POST', `${at}/url`, { url }),
    evaluate: (body) =>
      call('POST', `${at}/execute/async`, {
        script: `const done = arguments[arguments.length - 1]; (async () => { ${body} })().then(done, (error) => done('failed: ' + error));`,
        args: [],
      }),
    drag: async ([x, y], ...more) => {
      const moves = more.map(([mx, my]) => ({ type: 'pointerMove', x: Math.round(mx), y: Math.round(my), duration: 30 }));
      const actions = [
        { type: 'pointerMove', x: Math.round(x), y: Math.round(y), duration: 0 },
        { type: 'pointerDown', button: 0 },
        ...moves,
        { type: 'pointerUp', button: 0 },
      ];
      await call('POST', `${at}/actions`, { actions: [{ type: 'pointer', id: 'finger', parameters: { pointerType: 'mouse' }, actions }] });
    },
    shot: async (file) => {
      execFileSync('scrot', ['-o', '-a', `0,0,${width + 100},${height + 100}`, file], { env });
      return Promise.resolve();
    },
    close: async () => {
      await call('DELETE', at).catch(() => undefined);
      driver.kill();
      screen.kill();
      await rest(300);
    },
  };
}
