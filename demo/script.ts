/** How a voice of the synthesiser is set. */
interface Voice {
  readonly voice: string;
  readonly speed: number;
  readonly pitch: number;
}

const NARRATOR: Voice = { voice: 'en-gb', speed: 150, pitch: 38 };
const OBSERVER: Voice = { voice: 'en-gb+f3', speed: 158, pitch: 52 };
const MECHANIC: Voice = { voice: 'en-us+m3', speed: 148, pitch: 30 };
const VALLEY: Voice = { voice: 'en-gb-scotland+m7', speed: 172, pitch: 46 };

/** One recording of speech. */
export interface Spoken extends Voice {
  readonly file: string;
  readonly text: string;
  /** Loudness it was “recorded” at, LUFS. */
  readonly loudness: number;
  readonly place: 'studio' | 'indoors' | 'outdoors' | 'radio';
}

export const SPEECH: readonly Spoken[] = [
  {
    ...NARRATOR,
    file: 'narrator-1-last-car.wav',
    loudness: -26.5,
    place: 'studio',
    text: 'The last cable car leaves Varnholt at ten past four. After that, the mountain belongs to the wind, and to one woman with a notebook. Her name is Mirel Andvik, and tonight she keeps the Hollerkamm weather station, two thousand nine hundred metres above the sea.',
  },
  {
    ...OBSERVER,
    file: 'observer-indoors-1-kettle.wav',
    loudness: -38,
    place: 'indoors',
    text: 'I put the kettle on first. Always the kettle. Then I read the barometer, because the barometer does not care whether I am cold.',
  },
  {
    ...NARRATOR,
    file: 'narrator-2-the-hut.wav',
    loudness: -26.5,
    place: 'studio',
    text: 'The hut is one room and a half. A bunk, a stove, a table with a lamp, and a generator behind the wall that has been running since October. On the table lies the log. It goes back sixty one years, and there is no empty line in it.',
  },
  {
    ...NARRATOR,
    file: 'narrator-3-every-hour.wav',
    loudness: -26.5,
    place: 'studio',
    text: 'Every hour, on the hour, she climbs the ladder to the roof. Snow depth. Wind. The colour of the clouds, if there is a moon to see them by.',
  },
  {
    ...OBSERVER,
    file: 'observer-outdoors-1-roof.wav',
    loudness: -15.5,
    place: 'outdoors',
    text: 'Right, I am on the roof! It is minus nineteen and the gauge is frozen again! Hold on, I have to hit it with the spoon!',
  },
  {
    ...MECHANIC,
    file: 'mechanic-the-spoon.wav',
    loudness: -27,
    place: 'indoors',
    text: 'She hits it with a spoon. A proper instrument, made in Kestrelau, calibrated twice a year, and she hits it with a soup spoon.',
  },
  {
    ...NARRATOR,
    file: 'narrator-4-pressure.wav',
    loudness: -26.5,
    place: 'studio',
    text: 'By midnight the needle is falling. Down in Varnholt, the forecast office has noticed as well.',
  },
  {
    ...OBSERVER,
    file: 'observer-indoors-2-figures.wav',
    loudness: -37,
    place: 'indoors',
    text: 'You write the figure down before you think about it. If you think first, you write what you expected.',
  },
  {
    ...VALLEY,
    file: 'valley-radio-call.wav',
    loudness: -21,
    place: 'radio',
    text: 'Hollerkamm, Hollerkamm, this is valley base. We have your pressure falling four in an hour. Confirm, please. Over.',
  },
  {
    ...OBSERVER,
    file: 'observer-outdoors-2-gust.wav',
    loudness: -14.5,
    place: 'outdoors',
    text: 'Confirmed! Four point two! And the anemometer has just gone past one hundred and thirty!',
  },
  {
    ...VALLEY,
    file: 'valley-radio-reply.wav',
    loudness: -22,
    place: 'radio',
    text: 'Copied, four point two, and one three zero on the wind. We are closing the pass road now. Stay inside, Mirel. Over and out.',
  },
  {
    ...OBSERVER,
    file: 'observer-indoors-3-why.wav',
    loudness: -39,
    place: 'indoors',
    text: 'People ask me why they do not put a machine up here. They did. It lasted until the second week of November. A machine cannot dig itself out, and it cannot tell you that the snow sounds different tonight.',
  },
  {
    ...OBSERVER,
    file: 'observer-whisper.wav',
    loudness: -63,
    place: 'indoors',
    text: 'Listen. It has stopped.',
  },
  {
    ...NARRATOR,
    file: 'narrator-5-morning.wav',
    loudness: -26.5,
    place: 'studio',
    text: 'At seven the first car comes up with bread and a new roll of paper. Twelve readings, one bent spoon. The line between the frost and the thaw has moved four hundred metres down the mountain, and somebody was there to see it.',
  },
];
