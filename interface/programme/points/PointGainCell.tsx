import { SILENT_DB } from '@/core/programme/curve';
import { PART_GAIN } from '@/core/programme/gainField';
import { readNumber } from '@/core/text/typedNumber';
import { numberMessage } from '../../editing/NumberField';
import { TypedCell } from '../../editing/TypedCell';
import { gainText } from '../clipLevel';

const POINT_RANGE = { name: 'Gain of the point', min: PART_GAIN.min, max: PART_GAIN.max, unit: 'dB' };

/** The gain of a point of a curve, typed. @param place as it is told */
export function PointGainCell({
  place,
  db,
  onDb,
}: {
  place: string;
  db: number;
  onDb: (db: number) => void;
}) {
  return (
    <TypedCell
      label={`Gain of the point at ${place}`}
      shown={db <= SILENT_DB ? 'silent' : gainText(db).replace(' dB', '')}
      take={(text) => {
        const read = readNumber(text, numberMessage(POINT_RANGE), [POINT_RANGE.min, POINT_RANGE.max, 'dB']);
        if (typeof read !== 'number') return read.error;
        onDb(read);
        return null;
      }}
    />
  );
}
