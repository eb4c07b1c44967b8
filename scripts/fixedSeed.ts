import fc from 'fast-check';

// The same cases on every run, so that what passed here passes there; `SEED=n npm test unit` looks for others.
fc.configureGlobal({ seed: Number(process.env.SEED ?? 20_260_131) });
