import { onScopeDispose, ref, shallowRef, watch } from 'vue';
import { useNotices } from '../../../stores/notices.ts';
import { useUploads } from '../../../stores/uploads.ts';
import { nameLock, REMOVED_MS, type ListedRecording, type PieceStore } from './piece-store.ts';

/** Recordings of a person that lie in this browser and were not sent; `busyId` is the one that runs now. */
export function useKeptRecordings(
  store: PieceStore,
  owner: () => string,
  assignmentId: () => string | null,
  busyId: () => string | null,
) {
  const uploads = useUploads();
  const notices = useNotices();
  const all = shallowRef<readonly ListedRecording[]>([]);
  const shown = shallowRef<ListedRecording | null>(null);
  const playUrl = ref<string | null>(null);

  async function readAgain(): Promise<void> {
    const personId = owner();
    const found = personId === '' ? [] : await store.list(personId).catch(() => []);
    if (personId !== owner()) return;
    const old = found.filter((each) => each.removedAt !== null && isLongAgo(each.removedAt));
    await Promise.all(old.map((each) => store.remove(each)));
    const running = new Set((await navigator.locks?.query())?.held?.map((lock) => lock.name));
    all.value = found.filter(
      (each) =>
        each.removedAt === null &&
        each.id !== busyId() &&
        !running.has(nameLock(each.id)) &&
        each.assignmentId === assignmentId(),
    );
    if (!all.value.some((each) => each.id === shown.value?.id)) show(null);
  }
  function show(recording: ListedRecording | null): void {
    if (playUrl.value) URL.revokeObjectURL(playUrl.value);
    playUrl.value = null;
    shown.value = recording;
    if (!recording) return;
    void store.read(recording).then((file) => {
      if (shown.value?.id === recording.id) playUrl.value = URL.createObjectURL(file);
    }, notices.tellFault);
  }
  /** Sends it; it leaves this browser once the server has the same bytes. */
  async function keep(recording: ListedRecording): Promise<void> {
    try {
      const file = await store.read(recording);
      uploads.add(recording.assignmentId, file, {
        origin: recording.origin,
        name: recording.name,
        onDone: () => void store.remove(recording).then(readAgain),
      });
      if (shown.value?.id === recording.id) show(null);
    } catch (error) {
      notices.tellFault(error);
    }
  }
  async function throwAway(recording: ListedRecording): Promise<void> {
    await store.update({ ...recording, removedAt: new Date().toISOString() }, true);
    await readAgain();
    notices.addWithUndo('The recording is thrown away.', async () => {
      await store.update(recording, true);
      await readAgain();
    });
  }
  watch([owner, assignmentId, busyId], () => void readAgain(), { immediate: true });
  onScopeDispose(() => show(null));
  return { all, shown, playUrl, show, keep, throwAway, readAgain };
}

const isLongAgo = (at: string) => Date.now() - Date.parse(at) > REMOVED_MS;
