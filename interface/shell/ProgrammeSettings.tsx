'use client';

import SettingsIcon from '@mui/icons-material/SettingsOutlined';
import { PROGRAMME_LAYOUTS } from '@/core/audio/layout';
import {
  PROGRAMME_RATES,
  setLayout,
  setMonoLaw,
  setSampleRate,
  setTimeDisplay,
} from '@/core/programme/edits/settings';
import type { MonoLaw } from '@/core/programme/model';
import { placeText } from '@/core/programme/timeText';
import { FRAME_RATES } from '@/core/text/timecode';
import { ChoiceField } from '../editing/ChoiceField';
import { PlaceField } from '../editing/PlaceField';
import { SidePanel } from './SidePanel';
import { useProject, useSession } from '../session/SessionContext';

const LAWS: Readonly<Record<MonoLaw, string>> = {
  constantPower: 'Constant power: −3 dB to each side, as loud as by itself',
  full: 'In full to each side: 3 dB louder than by itself',
};

/** Stands for no timecode. */
const CLOCK = 'clock';

/** What the programme's first frame is called, typed as timecode or time. */
function StartField() {
  const session = useSession();
  const { time, sampleRate } = useProject();
  const fromMidnight = { sampleRate, time: { ...time, startSeconds: 0 } };
  return (
    <PlaceField
      label="Start timecode"
      of={fromMidnight}
      frame={time.startSeconds * sampleRate}
      help="Of the first frame"
      onPlace={(frame) =>
        session.do(`Start timecode ${placeText(fromMidnight, frame, 3)}`, (state) =>
          setTimeDisplay(state, { ...state.time, startSeconds: frame / sampleRate }),
        )
      }
    />
  );
}

function Fields() {
  const session = useSession();
  const { layoutId, sampleRate, monoLaw, time } = useProject();
  return (
    <>
      <ChoiceField
        label="Channels"
        value={layoutId}
        choices={PROGRAMME_LAYOUTS.map(({ id, name }) => ({
          value: id,
          label: name[0]!.toUpperCase() + name.slice(1),
        }))}
        help="Sources with more channels are downmixed to ITU-R BS.775"
        onChoose={(value, label) =>
          session.do(`Programme in ${label}`, (project) => setLayout(project, value))
        }
      />
      <ChoiceField
        label="Sample rate"
        value={String(sampleRate)}
        choices={PROGRAMME_RATES.map((rate) => ({
          value: String(rate),
          label: `${rate.toLocaleString('en')} Hz`,
        }))}
        help="Sources at other rates are converted; their own figures stay those of their own rate"
        onChoose={(value, label) =>
          session.do(`Programme at ${label}`, (project) => setSampleRate(project, Number(value)))
        }
      />
      <ChoiceField
        label="Mono sources in stereo"
        value={monoLaw}
        choices={(Object.keys(LAWS) as MonoLaw[]).map((law) => ({ value: law, label: LAWS[law] }))}
        help="In a programme with a centre channel, mono goes there"
        onChoose={(value, label) =>
          session.do(`Mono: ${label}`, (project) => setMonoLaw(project, value as MonoLaw))
        }
      />
      <ChoiceField
        label="Time display"
        value={time.frameRateId ?? CLOCK}
        choices={[
          { value: CLOCK, label: 'Hours, minutes, seconds' },
          ...FRAME_RATES.map(({ id, name }) => ({ value: id, label: `Timecode, ${name} fps` })),
        ]}
        help="Places can be typed either way"
        onChoose={(value, label) =>
          session.do(`Time as ${label}`, (project) =>
            setTimeDisplay(project, { ...project.time, frameRateId: value === CLOCK ? null : value }),
          )
        }
      />
      <StartField />
    </>
  );
}

/** What the programme is made in: channels, rate, how mono is laid, how time is counted. */
export const ProgrammeSettings = () => (
  <SidePanel panel="settings" name="Programme settings" icon={<SettingsIcon fontSize="small" />} width={340}>
    <Fields />
  </SidePanel>
);
