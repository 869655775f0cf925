import type { CaptureMode, Guide } from '@apodix/core';
import { drawPerformer } from './draw-performer.ts';

export interface PracticeCamera {
  readonly stream: MediaStream;
  readonly end: () => void;
}

const RATE = 30;
/** A drawn film gains nothing from more, and every line of it is drawn by the page. */
const MOST_LINES = 720;
/** A minor pentatonic on A3, in Hz. */
const NOTES = [220, 261.63, 293.66, 329.63, 392, 440] as const;
const NOTE_S = 0.3;

/**
 * A simulated performer with sound: a canvas and Web Audio as a real stream, so that everybody can try the
 * camera, and everything behind it runs the same code.
 */
export function openPracticeCamera(mode: CaptureMode, id: Guide['id'], lines: number): PracticeCamera {
  const tracks: MediaStreamTrack[] = [];
  const ends: (() => void)[] = [];
  if (mode !== 'sound') {
    const picture = startPicture(id, mode === 'video' ? Math.min(lines, MOST_LINES) : lines);
    tracks.push(...picture.stream.getVideoTracks());
    ends.push(picture.end);
  }
  if (mode !== 'photo') {
    const sound = startSound();
    tracks.push(...sound.stream.getAudioTracks());
    ends.push(sound.end);
  }
  return { stream: new MediaStream(tracks), end: () => ends.forEach((end) => end()) };
}

function startPicture(id: Guide['id'], lines: number): PracticeCamera {
  const canvas = document.createElement('canvas');
  canvas.width = Math.round((lines * 16) / 9 / 2) * 2;
  canvas.height = lines;
  const context = canvas.getContext('2d');
  if (!context) throw new Error('This browser cannot draw.');
  const begun = performance.now();
  const draw = () => drawPerformer(context, id, (performance.now() - begun) / 1000);
  draw();
  // A timer, because a page in the background gets no animation frames.
  const timer = setInterval(draw, 1000 / RATE);
  const stream = canvas.captureStream(RATE);
  return {
    stream,
    end: () => {
      clearInterval(timer);
      for (const track of stream.getTracks()) track.stop();
    },
  };
}

function startSound(): PracticeCamera {
  const audio = new AudioContext();
  const out = audio.createMediaStreamDestination();
  let at = audio.currentTime + 0.1;
  let count = 0;
  const play = () => {
    while (at < audio.currentTime + 0.6) {
      // Four bars of notes, then one of rest: a performance has pauses.
      if (count % 20 < 16)
        strike(audio, out, NOTES[(count * 5 + Math.floor(count / 4)) % NOTES.length] ?? 220, at);
      at += NOTE_S;
      count += 1;
    }
  };
  play();
  const timer = setInterval(play, 200);
  void audio.resume();
  return {
    stream: out.stream,
    end: () => {
      clearInterval(timer);
      void audio.close();
    },
  };
}

/** A struck bar: its tone and the fourth above the second octave, dying away. */
function strike(audio: AudioContext, out: AudioNode, frequencyHz: number, at: number): void {
  for (const [ratio, level, decayS] of [
    [1, 0.32, 0.5],
    [4, 0.09, 0.15],
  ] as const) {
    const tone = new OscillatorNode(audio, { frequency: frequencyHz * ratio });
    const gain = new GainNode(audio, { gain: 0 });
    gain.gain.setValueAtTime(0, at);
    gain.gain.linearRampToValueAtTime(level, at + 0.006);
    gain.gain.exponentialRampToValueAtTime(0.0008, at + decayS);
    tone.connect(gain).connect(out);
    tone.start(at);
    tone.stop(at + decayS + 0.05);
  }
}
