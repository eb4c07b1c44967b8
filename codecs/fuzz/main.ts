/** npm run fuzz -- [--count N] [--seed N] */
import { parseArgs } from 'node:util';
import { compressedSpecimens, plainSpecimens } from './corpus';
import { fuzz } from './run';

const { values } = parseArgs({
  options: { count: { type: 'string', default: '20000' }, seed: { type: 'string', default: '1' } },
});
const [count, seed] = [Number(values.count), Number(values.seed)];
if (!Number.isInteger(count) || count < 1 || !Number.isInteger(seed) || seed < 0) {
  console.error('--count is a whole number from 1, --seed one from 0.');
  process.exit(2);
}
const specimens = [...plainSpecimens(), ...compressedSpecimens()];
const { fates, harm, growth } = await fuzz(specimens, count, seed, (done) => {
  if (process.stderr.isTTY && done % 100 === 0) process.stderr.write(`\r${done} of ${count}`);
});
console.log(
  `\n${count} damaged files: ${fates.measured} measured, ${fates.partial} in part, ${fates.refused} refused, ${harm.length} did harm; memory grew by up to ${Math.round(growth / 1e6)} MB`,
);
for (const { specimen, seed: at, error } of harm.slice(0, 20))
  console.log(`  ${specimen}, seed ${at}: ${String(error)}`);
process.exit(harm.length > 0 ? 1 : 0);
