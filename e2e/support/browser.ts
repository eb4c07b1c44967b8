import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Builder, logging, type WebDriver } from 'selenium-webdriver';
import { Options, ServiceBuilder, type Driver } from 'selenium-webdriver/chrome.js';

/** A browser of its own, with a profile that can outlive it (to kill it and come back). */
export interface TestBrowser {
  readonly driver: Driver;
  readonly profile: string;
  readonly downloads: string;
  /** Lets all of it stand still for a while, as a machine does that sleeps, ms. */
  sleep(ms: number): Promise<void>;
  /** Ends it at once, as a crash would, and leaves the profile. */
  kill(): Promise<void>;
  /** Ends it and forgets its profile. */
  close(): Promise<void>;
}

const FLAGS = [
  '--headless=new',
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--disable-dev-shm-usage',
  '--force-prefers-reduced-motion',
  '--autoplay-policy=no-user-gesture-required',
  '--enable-precise-memory-info',
  '--js-flags=--expose-gc',
];

export const SIZE = { width: 1280, height: 800, deviceScaleFactor: 1, mobile: false };

/** The processes of the browser that uses a profile. */
function processesOf(profile: string): number[] {
  return readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .map(Number)
    .filter((pid) => {
      try {
        const command = readFileSync(`/proc/${pid}/cmdline`, 'utf8');
        return command.includes('chromium') && command.includes(`--user-data-dir=${profile}`);
      } catch {
        return false;
      }
    });
}

/**
 * @param profile an earlier browser's profile to come back to; a new one when left out
 * @param logRequests every request is logged, which slows everything
 */
export async function startBrowser(
  profile = mkdtempSync(join(tmpdir(), 'dengung-browser-')),
  logRequests = false,
): Promise<TestBrowser> {
  for (const path of ['/usr/bin/chromium', '/usr/bin/chromedriver']) {
    if (!existsSync(path)) throw new Error(`${path} is missing: apt-get install chromium chromium-driver`);
  }
  const downloads = mkdtempSync(join(tmpdir(), 'dengung-downloads-'));
  const options = new Options();
  options.setChromeBinaryPath('/usr/bin/chromium');
  options.addArguments(...FLAGS, `--user-data-dir=${profile}`);
  options.setUserPreferences({
    'download.default_directory': downloads,
    'download.prompt_for_download': false,
  });
  const prefs = new logging.Preferences();
  prefs.setLevel(logging.Type.BROWSER, logging.Level.ALL);
  if (logRequests) prefs.setLevel(logging.Type.PERFORMANCE, logging.Level.ALL);
  options.setLoggingPrefs(prefs);
  const driver = (await new Builder()
    .forBrowser('chrome')
    .setChromeOptions(options)
    .setChromeService(new ServiceBuilder('/usr/bin/chromedriver'))
    .build()) as WebDriver as Driver;
  await driver.sendDevToolsCommand('Emulation.setDeviceMetricsOverride', SIZE);
  await driver.sendDevToolsCommand('Browser.setDownloadBehavior', {
    behavior: 'allow',
    downloadPath: downloads,
  });
  await driver.manage().setTimeouts({ script: 120_000, pageLoad: 120_000 });
  return {
    driver,
    profile,
    downloads,
    async sleep(ms) {
      const all = processesOf(profile);
      for (const pid of all) process.kill(pid, 'SIGSTOP');
      await new Promise((resolve) => setTimeout(resolve, ms));
      for (const pid of all) process.kill(pid, 'SIGCONT');
    },
    async kill() {
      for (const pid of processesOf(profile)) process.kill(pid, 'SIGKILL');
      await driver.quit().catch(() => undefined);
    },
    async close() {
      await driver.quit().catch(() => undefined);
      rmSync(profile, { recursive: true, force: true, maxRetries: 5, retryDelay: 200 });
      rmSync(downloads, { recursive: true, force: true });
    },
  };
}
