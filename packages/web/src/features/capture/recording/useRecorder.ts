import {
  LINING_UP,
  readCount,
  stepCapture,
  type CaptureEvent,
  type CaptureMode,
  type CaptureQuality,
  type CaptureState,
  type CountIn,
} from '@apodix/core';
import { computed, onScopeDispose, ref, shallowRef } from 'vue';
import { nameLock, type KeptRecording, type PieceStore } from '../pieces/piece-store.ts';
import { chooseFormat } from './choose-format.ts';
import { PieceRecorder, type PieceRecorderOptions } from './piece-recorder.ts';
import { KEPT_BEFORE_MS, Standby } from './standby.ts';

export interface RecorderOptions {
  readonly store: PieceStore;
  readonly stream: () => MediaStream | null;
  readonly mode: () => CaptureMode;
  readonly quality: () => CaptureQuality;
  readonly origin: () => KeptRecording['origin'];
  readonly owner: () => { readonly personId: string; readonly assignmentId: string | null };
  /** What to call it, without an ending. */
  readonly name: () => string;
  readonly onFault: (error: unknown) => void;
}

const TICK_MS = 100;

/** Records a stream into the browser's own store, piece by piece. */
export function useRecorder(options: RecorderOptions) {
  const state = shallowRef<CaptureState>(LINING_UP);
  const now = ref(performance.now());
  const recording = shallowRef<KeptRecording | null>(null);
  let running: PieceRecorder | null = null;
  let standby: Standby | null = null;
  let writing: Promise<unknown> = Promise.resolve();
  let letGo: (() => void) | null = null;
  const timer = setInterval(() => {
    now.value = performance.now();
    send({ type: 'tick', at: now.value });
  }, TICK_MS);

  function send(event: CaptureEvent): void {
    const before = state.value;
    state.value = stepCapture(before, event);
    if (before !== state.value && before.phase !== 'recording' && state.value.phase === 'recording') begin();
  }
  function describeRecorder(): Omit<PieceRecorderOptions, 'onPiece'> | null {
    const [stream, mode] = [options.stream(), options.mode()];
    const format =
      mode === 'photo'
        ? null
        : chooseFormat(mode, (type) => MediaRecorder.isTypeSupported(type), navigator.hardwareConcurrency);
    if (!stream || !format) return null;
    return { stream, mimeType: format.mimeType, quality: options.quality(), onFault: fail };
  }
  function fail(error: unknown): void {
    options.onFault(error);
    if (state.value.phase === 'recording') void stop();
    else {
      standby?.end();
      standby = null;
      state.value = LINING_UP;
    }
  }
  function press(countIn: CountIn, waits: boolean): void {
    const recorder = describeRecorder();
    if (!recorder) return fail(new Error('This browser cannot record this.'));
    if (waits && state.value.phase === 'lining-up') standby = new Standby(recorder);
    send({ type: 'press', at: performance.now(), countIn, waits });
  }
  /** The first sound or movement while waiting. */
  function notice(): void {
    const at = performance.now();
    if (state.value.phase === 'waiting') send({ type: 'noticed', at, keptMs: KEPT_BEFORE_MS });
  }
  function begin(): void {
    const recorder = describeRecorder();
    if (!recorder) return fail(new Error('This browser cannot record this.'));
    const kept = buildRecording(recorder.mimeType);
    recording.value = kept;
    hold(kept.id);
    write(() => options.store.begin(kept));
    const onPiece = (piece: Blob) => write(() => options.store.append(kept.id, piece));
    try {
      running = standby ? standby.handOver(onPiece) : new PieceRecorder({ ...recorder, onPiece });
      standby = null;
      state.value = { phase: 'recording', startedAt: running.startedAt };
    } catch (error) {
      fail(error);
    }
  }
  /** Other tabs see by it that this recording still runs. */
  function hold(id: string): void {
    void navigator.locks?.request(nameLock(id), () => new Promise<void>((done) => (letGo = done)));
  }
  /** One after the other; a disk that is full ends the recording, with all that is there. */
  function write(work: () => Promise<unknown>): void {
    writing = writing.then(work).catch((error: unknown) => {
      if (running) fail(error);
    });
  }
  function buildRecording(mimeType: string): KeptRecording {
    const [type = ''] = mimeType.split(';');
    const ending = type === 'audio/mp4' ? 'm4a' : (type.split('/')[1] ?? 'webm');
    return {
      id: crypto.randomUUID(),
      ...options.owner(),
      mode: options.mode(),
      origin: options.origin(),
      name: `${options.name()}.${ending}`,
      mimeType: type,
      startedAt: new Date().toISOString(),
      durationMs: 0,
      isWhole: false,
      removedAt: null,
    };
  }
  async function stop(): Promise<void> {
    send({ type: 'stop', at: performance.now() });
    standby?.end();
    standby = null;
    const [own, kept] = [running, recording.value];
    running = null;
    if (!own || !kept || state.value.phase !== 'ending') return;
    const durationMs = Math.round(state.value.endedAt - state.value.startedAt);
    await own.stop();
    await writing;
    const whole = { ...kept, durationMs, isWhole: true };
    await options.store.update(whole, true).catch(options.onFault);
    recording.value = whole;
    letGo?.();
    send({ type: 'written' });
  }
  /** Keeps a photograph as a recording of one piece. */
  async function keepPhoto(photo: Blob): Promise<void> {
    const kept = { ...buildRecording(photo.type || 'image/jpeg'), isWhole: true };
    const named = { ...kept, name: kept.name.replace(/\.jpeg$/, '.jpg') };
    await options.store.begin(named);
    await options.store.append(named.id, photo);
    await options.store.update(named, true);
    recording.value = named;
    state.value = { phase: 'ended', durationMs: 0 };
  }
  onScopeDispose(() => {
    clearInterval(timer);
    void stop();
  });
  return {
    state,
    /** What was recorded last; whole once the state is `ended`. */
    recording,
    count: computed(() => readCount(state.value, now.value)),
    elapsedMs: computed(() =>
      state.value.phase === 'recording' ? Math.max(0, now.value - state.value.startedAt) : 0,
    ),
    press,
    notice,
    stop,
    keepPhoto,
    again: () => send({ type: 'again' }),
  };
}
