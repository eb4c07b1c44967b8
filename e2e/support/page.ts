import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { By, Key, type WebElement } from 'selenium-webdriver';
import { startBrowser, type TestBrowser } from './browser';

/** How long something may take before a test gives up; never an expectation of speed. */
const PATIENCE = Number(process.env['PATIENCE'] ?? 120_000);

/** How soon it is looked again whether something is there, ms: what takes long is asked for less and less, as asking costs. */
const FIRST_LOOK = 25;
const LAST_LOOK = 250;

const MENU_ITEM = "starts-with(@role, 'menuitem')";
const PRESSABLE = `self::button or self::a or ${MENU_ITEM}`;

const namedButton = (name: string, what: string): By => {
  const text = JSON.stringify(name);
  return By.xpath(`//*[${what}][contains(normalize-space(.), ${text}) or contains(@aria-label, ${text})]`);
};

/** What a person does with the product, in their words. */
export class Page {
  constructor(
    public browser: TestBrowser,
    readonly base: string,
  ) {}

  /** Starts a new browser with the profile of the one that was killed. */
  async comeBack(): Promise<void> {
    this.browser = await startBrowser(this.browser.profile);
  }

  get driver() {
    return this.browser.driver;
  }

  open(path: string): Promise<void> {
    return this.driver.get(this.base + path);
  }

  find(css: string): Promise<WebElement> {
    return this.located(`something that matches ${css}`, By.css(css));
  }

  async all(css: string): Promise<WebElement[]> {
    return this.driver.findElements(By.css(css));
  }

  /** Waits until a question about the page is answered with something true. */
  async until<T>(
    what: string,
    ask: () => Promise<T | null | undefined | false>,
    patience = PATIENCE,
  ): Promise<T> {
    const end = Date.now() + patience;
    for (let pause = FIRST_LOOK; ; pause = Math.min(LAST_LOOK, pause * 1.4)) {
      try {
        const answer = await ask();
        if (answer) return answer;
      } catch (error) {
        // The page may have been drawn anew between finding a thing and asking it.
        if ((error as Error).name !== 'StaleElementReferenceError') throw error;
      }
      if (Date.now() > end) throw new Error(`waited in vain for: ${what}`);
      await new Promise((resolve) => setTimeout(resolve, pause));
    }
  }

  private located(what: string, where: By): Promise<WebElement> {
    return this.until(what, async () => (await this.driver.findElements(where))[0]);
  }

  /** @param what which elements, as a condition in XPath */
  button(name: string, what = PRESSABLE): Promise<WebElement> {
    return this.located(`a button “${name}”`, namedButton(name, what));
  }

  /** Presses an entry of the menu that is open. */
  choose(name: string): Promise<void> {
    return this.press(name, MENU_ITEM);
  }

  async press(name: string, what = PRESSABLE): Promise<void> {
    const where = namedButton(name, what);
    await this.until(`“${name}” to be there, and free to press`, async () => {
      // Found anew each time: it may have been drawn anew since.
      const [button] = await this.driver.findElements(where);
      if (!button) return false;
      // Something may still be on its way across it (a menu that closes), or it may itself be: then the
      // place that was worked out for the click would be another thing's by the time it lands.
      const free = await this.driver.executeAsyncScript<boolean>(
        `const [button, done] = arguments;
        if (button.disabled || button.getAttribute('aria-disabled') === 'true') return done(false);
        button.scrollIntoView({ block: 'nearest' });
        const place = () => JSON.stringify(button.getBoundingClientRect());
        const before = place();
        requestAnimationFrame(() => requestAnimationFrame(() => done(place() === before)));`,
        button,
      );
      if (!free) return false;
      try {
        await button.click();
        return true;
      } catch (error) {
        if ((error as Error).name === 'ElementClickInterceptedError') return false;
        throw error;
      }
    });
  }

  field(label: string): Promise<WebElement> {
    const text = JSON.stringify(label);
    const where = `//input[@aria-label=${text}] | //label[contains(., ${text})]/..//input`;
    return this.located(`a field “${label}”`, By.xpath(where));
  }

  async type(label: string, text: string): Promise<void> {
    const field = await this.field(label);
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), text);
  }

  /** Chooses in a list that opens. @param label of the field */
  async pick(label: string, option: string): Promise<void> {
    const text = JSON.stringify(label);
    const where = `//*[@role='combobox'][@aria-labelledby = //*[contains(@class, 'MuiInputLabel-root')][normalize-space(.) = ${text}]/@id]`;
    const box = await this.located(`a list “${label}”`, By.xpath(where));
    // What stands above it may still be on its way out, and the click land beside it.
    await this.until(`“${label}” to open`, async () => {
      if ((await this.all('li[role=option]')).length > 0) return true;
      await box.click();
      await this.frames(2);
      return (await this.all('li[role=option]')).length > 0;
    });
    await this.press(option, "self::li and @role='option'");
    await this.until('the list to be gone', async () => (await this.all('li[role=option]')).length === 0);
  }

  async text(css: string): Promise<string> {
    return (await this.find(css)).getText();
  }

  /** What is told beside the pointer or a field, all of it: something may still be on its way out. */
  async tooltips(): Promise<string> {
    const shown = await this.all('[role=tooltip]');
    return (await Promise.all(shown.map((tooltip) => tooltip.getText()))).join('\n');
  }

  async attribute(css: string, name: string): Promise<string> {
    return (await (await this.find(css)).getAttribute(name)) ?? '';
  }

  /** Waits until the page has been drawn anew so many times. */
  frames(count: number): Promise<void> {
    return this.driver.executeAsyncScript(
      `let left = arguments[0];
      const next = () => (left-- > 0 ? requestAnimationFrame(next) : arguments[1]());
      next();`,
      count,
    );
  }

  /** Puts a source that came in on the first track, and goes to it. */
  async placeSource(name: string): Promise<void> {
    await this.find(`[data-source="${name}"] [data-figure=integratedLufs]`);
    await (await this.find(`[aria-label="Select ${name}"]`)).click();
    await this.press('Place end to end on');
    await this.press('Dialogue');
    await this.press('Programme');
    await this.measured();
  }

  /** Where the playhead is, seconds. */
  async playhead(): Promise<number> {
    const [minutes, seconds] = (await this.attribute('[data-playhead]', 'value')).split(':');
    return Number(minutes) * 60 + Number(seconds);
  }

  /** Waits until the programme's measurement is up to date. */
  async measured(patience = PATIENCE): Promise<void> {
    // A change is taken up within a frame or two; only then does the mark mean anything.
    await this.frames(3);
    await this.until(
      'the programme to be measured',
      async () => (await this.attribute('[data-measuring]', 'data-measuring')) === 'false',
      patience,
    );
  }

  async kept(): Promise<void> {
    await this.until('everything to be kept', async () => (await this.all('[data-save="saved"]')).length > 0);
  }

  /** A figure of the verdict bar as it is read out, such as “Integrated −23.0 LUFS, on target”. */
  async dial(figure: string): Promise<{ value: number; words: string; state: string }> {
    const dial = await this.find(`[data-figure="${figure}"][role=group]`);
    const words = (await dial.getAttribute('aria-label')) ?? '';
    const number = /(−?\d+\.\d+) (LUFS|dBTP|LU)/.exec(words)?.[1] ?? 'NaN';
    return {
      value: Number(number.replace('−', '-')),
      words,
      state: (await dial.getAttribute('data-state')) ?? '',
    };
  }

  /** A figure of the verdict bar once it is known: what was just opened has no clips for a moment, and nothing to measure. */
  async knownDial(figure: string): ReturnType<Page['dial']> {
    await this.until(`${figure} to be known`, async () => (await this.dial(figure)).state !== 'unknown');
    await this.measured();
    return this.dial(figure);
  }

  clip(name: string): Promise<WebElement> {
    return this.find(`[data-clip][data-name="${name}"]`);
  }

  /** Gain and loudness of a clip, unrounded. */
  async clipLevel(name: string): Promise<{ gain: number; lufs: number }> {
    const css = `[data-clip][data-name="${name}"]`;
    await this.until(`${name} to be measured`, async () => (await this.attribute(css, 'data-lufs')) !== '');
    return {
      gain: Number(await this.attribute(css, 'data-gain')),
      lufs: Number(await this.attribute(css, 'data-lufs')),
    };
  }

  async upload(...paths: string[]): Promise<void> {
    await (await this.find('input[type=file]')).sendKeys(paths.join('\n'));
  }

  /** Leaves the site, and lets go of what it stores but for the copy of the product itself. */
  async forgetSite(): Promise<void> {
    await this.driver.get('about:blank');
    await this.driver.sendDevToolsCommand('Storage.clearDataForOrigin', {
      origin: this.base,
      storageTypes: 'cookies,file_systems,indexeddb,local_storage',
    });
  }

  /** A new empty project, open at its sources. @param besides beside what is stored already, which goes otherwise */
  async newProject({ besides = false } = {}): Promise<void> {
    if (!besides) await this.forgetSite();
    await this.open('/projects');
    await this.press('New project');
    await this.find('[data-save]');
  }

  /** A copy of the demo programme as it is shipped, loaded and measured. @param again as it was left, with all else that is stored */
  async openDemo({ again = false } = {}): Promise<void> {
    if (!again) await this.forgetSite();
    await this.open('/');
    await this.until('the demo to open', async () =>
      (await this.driver.getCurrentUrl()).includes('/project/'),
    );
    await this.find('[data-clip]');
    await this.measured();
    await this.until(
      'the demo to be measured',
      async () => !Number.isNaN((await this.dial('integrated')).value),
    );
    await this.until(
      'every clip to be measured',
      async () => (await this.all('[data-clip][data-lufs=""]')).length === 0,
    );
  }

  /** A clip's waterline, as a place to move the pointer to. @param css of the clip */
  async waterline(css: string): Promise<{ origin: WebElement; x: number; y: number }> {
    const origin = await this.find(`${css}[data-waterline]`);
    const { height } = await origin.getRect();
    const y = Number(await origin.getAttribute('data-waterline')) - height / 2;
    return { origin, x: 0, y: Math.round(y) };
  }

  /** Waits for a file to be saved and gives its bytes. */
  async saved(name: string): Promise<Buffer> {
    const path = join(this.browser.downloads, name);
    await this.until(`${name} to be saved`, () =>
      Promise.resolve(
        existsSync(path) && !readdirSync(this.browser.downloads).some((file) => file.endsWith('.crdownload')),
      ),
    );
    return readFileSync(path);
  }

  /** Leaves a picture of the page in the temporary folder when a test has failed. */
  async pictureOfFailure(task: { name: string; result?: { state?: string } | undefined }): Promise<void> {
    if (task.result?.state !== 'fail') return;
    const path = join(tmpdir(), `dengung-failed-${task.name.replace(/\W+/g, '-').slice(0, 60)}.png`);
    writeFileSync(path, Buffer.from(await this.driver.takeScreenshot(), 'base64'));
    const words = await this.driver.findElement(By.css('body')).getText();
    console.error(
      `Picture of the failure: ${path}`,
      await this.errors(),
      `It read:\n${words.slice(0, 2000)}`,
    );
  }

  /** Console messages that are errors. */
  async errors(): Promise<string[]> {
    const entries = await this.driver.manage().logs().get('browser');
    return entries.filter((entry) => entry.level.name === 'SEVERE').map((entry) => entry.message);
  }
}
