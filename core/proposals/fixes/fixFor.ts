import { withUnit } from '@/core/text/figures';
import type { Finding } from '@/core/check/findings/finding';
import { REMEDIES } from '@/core/check/findings/remedy';
import { withFix, type Fix } from './fix';
import { shifted, smoothed } from './level';
import { lowered } from './lower';
import { riddenOut } from './ride';
import { besideSpeech } from './spoken';
import { isOverKind, resultOf, type Workshop } from './workshop';

/** What there is to do about a finding: a change, or what would mend it that no gain can do. */
export type Mend = { readonly fix: Fix } | { readonly remedy: string };

/** Where no gain was found to mend it. */
const BY_HAND: Readonly<Record<string, string>> = {
  range: 'Even out the clips that go up and down most, or ride the programme’s gain.',
  drift: 'Even out the clips it comes from, or ride the programme’s gain.',
  jump: 'No clip begins or ends here by itself: change it by hand.',
  dialogue: 'The rest would have to go down very far: look at the recording.',
};

/** The crossfade or fade that mends a click. */
async function unclicked({ from }: Finding, workshop: Workshop) {
  const { clicks, project, tryOut } = workshop;
  const click = clicks.find(({ at, mend }) => mend && Math.abs(at / project.sampleRate - from) < 0.002);
  if (!click?.mend) return null;
  const change = { kind: 'click', click } as const;
  const state = await tryOut(withFix(project, change));
  const ms = `${Math.round((click.mend.frames / project.sampleRate) * 1000)} ms`;
  const what =
    click.mend.kind === 'crossfade'
      ? `a crossfade of ${ms}`
      : click.mend.kind === 'fade'
        ? `a fade ${click.mend.side} of ${ms}`
        : `fades of ${ms} on both sides`;
  const after = click.after?.dbfs ?? null;
  return {
    ...{ change, what, before: click.click.dbfs, after, mends: true },
    ...resultOf(state, workshop),
    sentence: `${what[0]!.toUpperCase()}${what.slice(1)} ${click.mend.kind === 'fades' ? 'leave' : 'leaves'} ${withUnit(after, 'dBFS')}.`,
  };
}

/** Works out the smallest change that mends a finding of a programme, and what comes of it. */
export async function fixFor(finding: Finding, workshop: Workshop): Promise<Mend> {
  const { kind } = finding;
  const found = isOverKind(kind)
    ? await lowered({ ...finding, kind }, workshop)
    : kind === 'integrated'
      ? await shifted(finding, workshop)
      : kind === 'dialogue' && !finding.whole
        ? await besideSpeech(finding, workshop)
        : kind === 'jump'
          ? await smoothed(finding, workshop)
          : kind === 'click'
            ? await unclicked(finding, workshop)
            : kind === 'drift' || kind === 'range'
              ? await riddenOut(finding, workshop)
              : null;
  if (found) return { fix: { ...found, findingId: finding.id } };
  return { remedy: REMEDIES[kind] ?? BY_HAND[kind] ?? 'No single change was found that mends it.' };
}
