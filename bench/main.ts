import { parseArgs } from 'node:util';
import { benchBrowser, benchBrowserLong } from './browser';
import { benchCheck } from './check';
import { benchDeliver } from './deliver';
import { benchGrowth } from './growth';
import { benchLanes } from './lanes';
import { makeProgramme, type Programme } from './makeProgramme';
import { benchPath } from './path';
import { benchProgramme } from './programme';
import { benchProposal } from './proposal';
import { benchServer } from './server';
import { benchSession } from './session';
import { benchFile, benchMemory, benchTwin } from './node';

const { values } = parseArgs({
  options: {
    minutes: { type: 'string', default: '60' },
    only: { type: 'string' },
    yardstick: { type: 'string' },
    program: { type: 'string', default: '' },
  },
});
const minutes = Number(values.minutes);
if (!Number.isInteger(minutes) || minutes < 1 || minutes > 600) {
  console.error('--minutes is a whole number from 1 to 600');
  process.exit(2);
}
const wants = (part: string): boolean => values.only === undefined || values.only === part;

const SPEECH: Programme = { kind: 'speech', minutes, channels: 2, sampleRate: 48_000, format: 's24' };
const LONG: Programme = { ...SPEECH, minutes: minutes * 4, channels: 6, format: 's16' };

async function node(): Promise<void> {
  const short = Math.ceil(minutes / 4);
  const cases: readonly (readonly [string, Programme])[] = [
    [`Speech, ${minutes} min, 48 kHz stereo 24-bit`, SPEECH],
    [`Music, ${minutes} min, 48 kHz stereo 24-bit`, { ...SPEECH, kind: 'music' }],
    [`White noise, ${minutes} min, 48 kHz stereo 24-bit`, { ...SPEECH, kind: 'noise' }],
    [`Speech, ${short} min, 48 kHz 5.1 24-bit`, { ...SPEECH, minutes: short, channels: 6 }],
    [
      `Music, ${short} min, 192 kHz stereo 24-bit`,
      { ...SPEECH, kind: 'music', minutes: short, sampleRate: 192_000 },
    ],
  ];
  console.log('Node');
  for (const [name, programme] of cases) {
    console.log((await benchFile(makeProgramme(programme), name, values.yardstick ?? null)).join('\n'));
  }
  console.log(await benchTwin(makeProgramme(SPEECH)));
}

if (wants('node')) await node();
if (wants('programme')) console.log((await benchProgramme(minutes)).join('\n'));
if (wants('path')) console.log((await benchPath(minutes)).join('\n'));
if (wants('proposal')) console.log((await benchProposal()).join('\n'));
if (wants('growth')) console.log((await benchGrowth()).join('\n'));
if (wants('lanes')) console.log((await benchLanes()).join('\n'));
if (wants('session')) console.log((await benchSession()).join('\n'));
if (wants('check')) console.log((await benchCheck(`${process.cwd()}/`, minutes)).join('\n'));
if (wants('deliver')) console.log((await benchDeliver(minutes)).join('\n'));
if (wants('server')) console.log((await benchServer(4)).join('\n'));
if (wants('memory')) {
  console.log(`Speech, ${LONG.minutes} min, 48 kHz 5.1 16-bit, in a process of its own`);
  console.log(benchMemory(values.program, makeProgramme(LONG)));
}
if (wants('browser')) console.log((await benchBrowser(makeProgramme(SPEECH), minutes)).join('\n'));
if (wants('long')) console.log((await benchBrowserLong(makeProgramme(LONG), LONG.minutes)).join('\n'));
