/** npm run fuzz -- [--count N] [--seed N] */
import { parseArgs } from 'node:util';
import { checkedSpecimens, compressedSpecimens, plainSpecimens } from './corpus';
import { fuzzCuts } from './cuts';
import { flipBits } from './flips';
import { fuzz } from './run';
import { sweepFields } from './sweep';
import { fuzzTexts, textReaders } from './texts';

const { values } = parseArgs({
  options: { count: { type: 'string', default: '20000' }, seed: { type: 'string', default: '1' } },
});
const [count, seed] = [Number(values.count), Number(values.seed)];
if (!Number.isInteger(count) || count < 1 || !Number.isInteger(seed) || seed < 0) {
  console.error('--count is a whole number from 1, --seed one from 0.');
  process.exit(2);
}
const specimens = [...plainSpecimens(), ...compressedSpecimens()];
const say = console.log;
// Decoders complain on the console of what they are given; that is thousands of lines.
for (const name of ['error', 'warn', 'log'] as const) console[name] = () => undefined;
const { fates, harm, growth } = await fuzz(specimens, count, seed, (done) => {
  if (process.stderr.isTTY && done % 100 === 0) process.stderr.write(`\r${done} of ${count}`);
});
say(
  `\n${count} damaged files: ${fates.measured} measured, ${fates.partial} in part, ${fates.refused} refused, ${harm.length} did harm; memory grew by up to ${Math.round(growth / 1e6)} MB`,
);
for (const { specimen, seed: at, error } of harm.slice(0, 20))
  say(`  ${specimen}, seed ${at}: ${String(error)}`);

const flips = Math.ceil(count / 20);
const turned = await flipBits(checkedSpecimens(), flips, seed);
say(
  `${flips} bits turned in streams with checksums: ${turned.flagged} said to be damaged, ${turned.refused} refused, ${turned.unchanged} without a change, ${turned.silent.length} in silence`,
);
for (const where of turned.silent.slice(0, 20)) say(`  ${where}`);

let [swept, sweptHarm, slowest] = [0, 0, 0];
for (const specimen of specimens) {
  const result = await sweepFields(specimen, {
    step: Math.max(1, Math.ceil((specimen.bytes.length * 800) / (count * 50))),
    most: 4_000,
  });
  swept += result.tried;
  sweptHarm += result.harm.length;
  slowest = Math.max(slowest, result.slowestMs);
  for (const one of result.harm.slice(0, 5))
    say(`  ${one.specimen}, ${one.value} at ${one.at}: ${String(one.error)}`);
}
say(`${swept} fields swept: ${sweptHarm} did harm; the slowest took ${Math.round(slowest)} ms`);

const cuts = fuzzCuts(count, seed);
say(`${count} damaged cuts: ${cuts.read} read, ${cuts.refused} refused, ${cuts.harm.length} did harm`);
for (const { cut, seed: at, error } of cuts.harm.slice(0, 20)) say(`  ${cut}, seed ${at}: ${String(error)}`);

const texts = await fuzzTexts(textReaders(), count, seed);
say(
  `${count} damaged projects, project files, plans, targets, deliveries, recipients, records, receipts, subtitles and places: ${texts.read} read, ${texts.refused} refused, ${texts.harm.length} did harm`,
);
for (const { reader, seed: at, error } of texts.harm.slice(0, 20))
  say(`  ${reader}, seed ${at}: ${String(error)}`);

process.exit(
  texts.harm.length + harm.length + turned.silent.length + sweptHarm + cuts.harm.length > 0 ? 1 : 0,
);
