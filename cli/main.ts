import { run } from './run';
import { printingFailed, watchOutput } from './say';

watchOutput();
void run(process.argv.slice(2)).then((code) => (process.exitCode = printingFailed() ? 1 : code));
