/** A short tone for a count-in; the last one is higher. */
export function playTick(count: number): void {
  const audio = new AudioContext();
  const tone = new OscillatorNode(audio, { frequency: count === 1 ? 1320 : 880 });
  const gain = new GainNode(audio, { gain: 0.2 });
  gain.gain.exponentialRampToValueAtTime(0.001, audio.currentTime + 0.12);
  tone.connect(gain).connect(audio.destination);
  tone.onended = () => void audio.close();
  tone.start();
  tone.stop(audio.currentTime + 0.14);
}
