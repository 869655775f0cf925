import { SILENT_DB, type SoundReading } from '../sound/sound-reader.ts';

export interface Advice {
  readonly text: string;
  readonly isGood: boolean;
}

/** Peaks of a performance between these leave room above and stand out of the noise. */
const LOUD_DB = -1.5;
const QUIET_DB = -24;
const SILENT_AFTER_S = 4;

const write = (db: number) => `${Math.round(db).toString().replace('-', '−')} dB`;

/** What a meter has to say, in words beside it: the figure, then what to do. */
export function describeSound(reading: SoundReading | null): Advice {
  if (!reading) return { text: 'No microphone is heard yet.', isGood: false };
  if (reading.loudestDb < SILENT_DB && reading.silentS < SILENT_AFTER_S)
    return { text: 'Listening.', isGood: true };
  if (reading.silentS >= SILENT_AFTER_S)
    return {
      text: `Nothing is heard for ${Math.round(reading.silentS)} s: is the microphone the right one?`,
      isGood: false,
    };
  if (reading.clippedCount > 0)
    return { text: 'Too loud, it distorts: move back or lower the level.', isGood: false };
  if (reading.heldPeakDb > LOUD_DB)
    return { text: `Nearly too loud (${write(reading.heldPeakDb)}): move back a little.`, isGood: false };
  if (reading.loudestDb < QUIET_DB)
    return {
      text: `Too quiet (loudest ${write(reading.loudestDb)}): come closer or raise the level.`,
      isGood: false,
    };
  if (reading.humHz !== null)
    return {
      text: `A hum of ${reading.humHz} Hz is in it: move away from lamps, chargers and cables.`,
      isGood: false,
    };
  return { text: `Good. Loudest so far ${write(reading.loudestDb)}.`, isGood: true };
}
