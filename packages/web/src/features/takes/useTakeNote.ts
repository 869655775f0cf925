import { onScopeDispose, ref } from 'vue';
import { callRoute } from '../../api/call-route.ts';
import { useNotices } from '../../stores/notices.ts';
import { useWork } from '../../stores/work.ts';
import { chooseFormat } from '../capture/recording/choose-format.ts';

export const LONGEST_NOTE_S = 60;
const NOTE_BPS = 48_000;

/** Notes about a take, written or spoken. */
export function useTakeNote(takeId: () => string) {
  const work = useWork();
  const notices = useNotices();
  const voice = ref<{ state: 'idle' | 'recording' | 'sending'; secondsLeft: number }>({
    state: 'idle',
    secondsLeft: LONGEST_NOTE_S,
  });
  let recorder: MediaRecorder | null = null;
  let timer: ReturnType<typeof setInterval> | null = null;

  async function change(of: () => Promise<unknown>): Promise<void> {
    try {
      await of();
      await work.reload();
    } catch (error) {
      notices.tellFault(error);
    }
  }
  const write = (dataBase64: string | null) =>
    change(() => callRoute('writeVoice', { params: { takeId: takeId() }, body: { dataBase64 } }));

  async function speak(): Promise<void> {
    try {
      const stream = await navigator.mediaDevices.getUserMedia({ audio: true });
      const format = chooseFormat('sound', (type) => MediaRecorder.isTypeSupported(type), 4);
      const pieces: Blob[] = [];
      recorder = new MediaRecorder(stream, {
        ...(format ? { mimeType: format.mimeType } : {}),
        audioBitsPerSecond: NOTE_BPS,
      });
      recorder.ondataavailable = ({ data }) => pieces.push(data);
      recorder.onstop = () => {
        for (const track of stream.getTracks()) track.stop();
        void send(new Blob(pieces));
      };
      recorder.start();
      voice.value = { state: 'recording', secondsLeft: LONGEST_NOTE_S };
      timer = setInterval(() => {
        voice.value.secondsLeft -= 1;
        if (voice.value.secondsLeft <= 0) stop();
      }, 1000);
    } catch {
      notices.add(
        'No microphone is allowed here.',
        'Press the sign beside the address, allow the microphone, and try again; or write the note.',
        true,
      );
    }
  }
  function stop(): void {
    if (timer) clearInterval(timer);
    if (recorder?.state === 'recording') recorder.stop();
    recorder = null;
  }
  async function send(note: Blob): Promise<void> {
    voice.value = { state: 'sending', secondsLeft: LONGEST_NOTE_S };
    await write(await encodeBase64(note));
    voice.value = { state: 'idle', secondsLeft: LONGEST_NOTE_S };
  }
  onScopeDispose(stop);
  return {
    voice,
    speak,
    stop,
    removeVoice: () => write(null),
    save: (note: string) =>
      change(() => callRoute('changeTake', { params: { takeId: takeId() }, body: { note: note || null } })),
  };
}

function encodeBase64(blob: Blob): Promise<string> {
  return new Promise((done, fail) => {
    const reader = new FileReader();
    reader.onload = () => done(String(reader.result).replace(/^[^,]*,/, ''));
    reader.onerror = () => fail(reader.error ?? new Error('The note could not be read.'));
    reader.readAsDataURL(blob);
  });
}
