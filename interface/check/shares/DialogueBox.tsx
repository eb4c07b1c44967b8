import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useMemo } from 'react';
import { lowestPlaces } from '@/core/check/lowestPlaces';
import type { OverTime } from '@/core/check/overTime';
import type { Judged } from '@/core/check/verdict';
import { PEAK_BLOCKS_PER_SECOND } from '@/core/loudness/subBlocks';
import type { Contributions } from '@/core/measuring/contributions';
import { partOfRole, REST_PART } from '@/core/measuring/parts';
import type { Project } from '@/core/programme/model';
import { placeText } from '@/core/programme/timeText';
import { withUnit } from '@/core/text/figures';
import { overRestText } from '@/core/text/overRest';
import { useSession } from '../../session/SessionContext';

const MOST_PLACES = 6;

const BAND = { fontSize: 12, borderTop: 1, borderColor: 'divider', flex: 'none' } as const;

/** Heard before a place, seconds. */
const LEAD_SECONDS = 1.5;

/** Dialogue by itself: how loud it is, and where the rest comes near it. */
export function DialogueBox({
  project,
  judged: { spoken },
  contributions,
  overTime,
  ofRange,
}: {
  project: Project;
  judged: Judged;
  contributions: Contributions | null;
  overTime: OverTime;
  /** The parts are those of the range. */
  ofRange: boolean;
}) {
  const session = useSession();
  const places = useMemo(
    () => lowestPlaces(overTime.distances, PEAK_BLOCKS_PER_SECOND, MOST_PLACES),
    [overTime],
  );
  const alone = places.length === 0 && overTime.distances.some((distance) => !Number.isNaN(distance));
  if (!spoken)
    return (
      <Box component="section" aria-label="Dialogue by itself" sx={{ ...BAND, p: 1.5 }}>
        Nothing speaks: no clip lies on a track for dialogue or narration.
      </Box>
    );
  const own = (key: string): number | null | undefined => contributions?.parts.get(key)?.ownLufs;
  const hear = (at: number): void => {
    if (session.state.playing) session.listening.stop();
    session.listening.seek(Math.max(0, at - LEAD_SECONDS) * project.sampleRate);
    void session.listening.play();
  };
  const by = ofRange ? ', in the range' : '';
  const lines: readonly (readonly [string, string])[] = [
    ['The mix while somebody speaks', withUnit(spoken.lufs, 'LUFS')],
    [`Dialogue tracks alone${by}`, withUnit(contributions?.spokenLufs, 'LUFS')],
    ['Speech over the rest', spoken.overRestLu === null ? '—' : overRestText(spoken.overRestLu)],
    [`Music alone${by}`, withUnit(own(partOfRole(project.tracks, 'music')), 'LUFS')],
    [`Effects alone${by}`, withUnit(own(partOfRole(project.tracks, 'effects')), 'LUFS')],
    [`All that does not speak${by}`, withUnit(own(REST_PART), 'LUFS')],
  ];
  return (
    <Box
      component="section"
      aria-label="Dialogue by itself"
      sx={{ ...BAND, display: 'grid', gridTemplateColumns: '1fr 1fr', columnGap: 4, px: 1.5, py: 1 }}
    >
      <Box>
        <Box sx={{ fontWeight: 600, mb: 0.25 }}>Dialogue by itself</Box>
        <Box
          component="dl"
          sx={{
            ...{ m: 0, display: 'grid', gridTemplateColumns: '1fr auto', columnGap: 1.5, lineHeight: '18px' },
            '& dd': { m: 0, textAlign: 'right', whiteSpace: 'nowrap' },
            '& dt': { color: 'text.secondary' },
          }}
        >
          {lines.map(([name, value]) => (
            <Box key={name} sx={{ display: 'contents' }}>
              <dt>{name}</dt>
              <dd data-dialogue-line={name}>{value}</dd>
            </Box>
          ))}
        </Box>
      </Box>
      <Box>
        <Box sx={{ fontWeight: 600, mb: 0.25 }}>Where speech lies lowest</Box>
        {places.length === 0 && (
          <Box sx={{ color: 'text.secondary' }}>
            {alone ? 'Nothing else sounds while somebody speaks.' : 'Nobody speaks for long enough to say.'}
          </Box>
        )}
        <Box component="ol" aria-label="Where speech lies lowest" sx={{ listStyle: 'none', m: 0, p: 0 }}>
          {places.map(({ at, lu }) => {
            const place = placeText(project, Math.round(at * project.sampleRate), 1);
            return (
              <Box
                component="li"
                key={at}
                data-low={lu.toFixed(2)}
                sx={{ display: 'flex', justifyContent: 'space-between', lineHeight: '18px' }}
              >
                <Button
                  color="inherit"
                  aria-label={`Hear ${place}`}
                  onClick={() => hear(at)}
                  sx={{ p: 0, minWidth: 0, fontSize: 12, lineHeight: '18px', textDecoration: 'underline' }}
                >
                  {place}
                </Button>
                <span>
                  {overRestText(lu)}
                  {lu < 0 ? ', under the rest' : ' over the rest'}
                </span>
              </Box>
            );
          })}
        </Box>
      </Box>
    </Box>
  );
}
