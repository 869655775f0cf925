import { SoundReader, type SoundReading } from '@apodix/core';
import { onScopeDispose, shallowRef, watch, type ShallowRef } from 'vue';

const EVERY_MS = 100;
/** Samples that are kept for a reader who comes late; at 48 kHz a third of a second. */
const KEPT = 16_384;

/** The level of a stream's sound, ten times a second; null without sound. */
export function useSoundReading(stream: Readonly<ShallowRef<MediaStream | null>>) {
  const reading = shallowRef<SoundReading | null>(null);
  let end: (() => void) | null = null;

  function begin(of: MediaStream): () => void {
    const audio = new AudioContext();
    const analyser = new AnalyserNode(audio, { fftSize: KEPT });
    const source = audio.createMediaStreamSource(of);
    source.connect(analyser);
    void audio.resume();
    const reader = new SoundReader(audio.sampleRate);
    const kept = new Float32Array(KEPT);
    let lastAt = audio.currentTime;
    const timer = setInterval(() => {
      const fresh = Math.min(KEPT, Math.round((audio.currentTime - lastAt) * audio.sampleRate));
      if (fresh <= 0) return;
      lastAt = audio.currentTime;
      analyser.getFloatTimeDomainData(kept);
      reading.value = reader.add(kept.slice(KEPT - fresh));
    }, EVERY_MS);
    return () => {
      clearInterval(timer);
      source.disconnect();
      void audio.close();
    };
  }
  watch(
    stream,
    (next) => {
      end?.();
      reading.value = null;
      end = next?.getAudioTracks().length ? begin(next) : null;
    },
    { immediate: true },
  );
  onScopeDispose(() => end?.());
  return reading;
}
