import {
  containerTable,
  createPlainRecipe,
  readCeilings,
  type Limit,
  type Sheet,
  type SheetPiece,
  type TakeView,
} from '@apodix/core';
import { useDebounceFn, useDebouncedRefHistory } from '@vueuse/core';
import { computed, nextTick, onScopeDispose, ref, shallowRef } from 'vue';
import { CallError, callRoute } from '../../api/call-route.ts';
import { useLive } from '../../stores/live.ts';
import { useNotices } from '../../stores/notices.ts';
import { useWork } from '../../stores/work.ts';

const SETTLE_MS = 600;
const MOST_STEPS = 200;
const buildPiece = (takeId: string): SheetPiece => ({
  takeId,
  title: '',
  medium: '',
  size: '',
  date: '',
  answer: [],
});

/** What an assignment takes instead, where it takes no PDF; null where it does. */
export function describeRefused(limits: readonly Limit[]): string | null {
  const { wantedContainers: wanted, refusedContainers } = readCeilings(limits, 'document');
  const isTaken = wanted === null ? !refusedContainers.includes('pdf') : wanted.includes('pdf');
  if (isTaken) return null;
  const names = (wanted ?? []).map((id) => containerTable[id].label).join(' or ');
  return `This assignment takes ${names || 'no PDF'}: hand the photographs in one by one. The sheet is for you.`;
}

/** The sheet of the open assignment: edited, kept by itself, undone step by step, and made into a PDF. */
export function useSheet(assignmentId: string) {
  const [work, live, notices] = [useWork(), useLive(), useNotices()];
  const params = { assignmentId };
  const sheet = shallowRef<Sheet>({ layout: 'single', paper: 'a4', title: '', pieces: [] });
  const history = useDebouncedRefHistory(sheet, { debounce: 300, capacity: MOST_STEPS });
  const isRead = ref(false);
  const isKept = ref(true);
  const jobId = ref<string | null>(null);
  /** What was made last, as it stood on the sheet. */
  const madeOf = shallowRef<Sheet | null>(null);
  let version = 0;
  let saving = Promise.resolve(true);

  /** Photographs that can stand on it. */
  const photos = computed(() => work.readyTakes.filter(({ facts }) => facts?.photo));
  const pieces = computed(() =>
    sheet.value.pieces.map((piece) => ({
      piece,
      take: photos.value.find(({ id }) => id === piece.takeId) ?? null,
    })),
  );
  const isAnyGone = computed(() => isRead.value && pieces.value.some(({ take }) => take === null));

  async function read(): Promise<void> {
    try {
      const kept = await callRoute('readSheet', { params });
      version = kept.version;
      // What it begins with is no step that could be undone.
      history.pause();
      sheet.value = kept.sheet ?? {
        ...sheet.value,
        title: work.assignment?.title ?? '',
        pieces: photos.value.toReversed().map(({ id }) => buildPiece(id)),
      };
      await nextTick();
      history.commit();
      history.clear();
      history.resume();
      isRead.value = true;
    } catch (error) {
      notices.tellFault(error);
    }
  }
  function change(next: Partial<Sheet>): void {
    sheet.value = { ...sheet.value, ...next };
    isKept.value = false;
    void settle();
  }
  const settle = useDebounceFn(() => save(), SETTLE_MS);
  function save(): Promise<boolean> {
    return (saving = saving.then(keep));
  }
  async function keep(): Promise<boolean> {
    const wanted = sheet.value;
    if (!isRead.value || (isKept.value && version > 0)) return true;
    try {
      const kept = await callRoute('writeSheet', { params, body: { baseVersion: version, sheet: wanted } });
      version = kept.version;
      isKept.value = sheet.value === wanted;
      return true;
    } catch (error) {
      // What is on screen holds: the next change is kept over what another window did.
      if (error instanceof CallError && error.fault.code === 'CHANGED_MEANWHILE')
        version = (await callRoute('readSheet', { params }).catch(() => ({ version }))).version;
      notices.tellFault(error);
      return false;
    }
  }
  function step(move: () => void): void {
    move();
    isKept.value = false;
    void settle();
  }
  const set = (next: readonly SheetPiece[]) => change({ pieces: [...next] });
  onScopeDispose(() => {
    if (!isKept.value) void save();
  });

  const job = computed(() => {
    const told = jobId.value === null ? null : (live.jobs[jobId.value] ?? null);
    if (told?.state === 'done' || told?.state === 'cancelled') return null;
    return told;
  });
  /** The take that it became; measured by and by. */
  const made = computed<TakeView | null>(() => work.takes.find(({ id }) => id === jobId.value) ?? null);
  const measuring = computed(() =>
    made.value?.state === 'inspecting' ? work.findJob(made.value.id, 'inspect') : null,
  );
  async function make(): Promise<void> {
    try {
      if (!(await save())) return;
      madeOf.value = sheet.value;
      const started = await callRoute('makeSheet', { params });
      live.accept([started.job]);
      jobId.value = started.job.id;
    } catch (error) {
      notices.tellFault(error);
    }
  }
  return {
    sheet,
    pieces,
    isRead,
    isKept,
    isAnyGone,
    job,
    made,
    /** Whether the sheet was changed since it was made. */
    isChanged: computed(() => madeOf.value !== sheet.value),
    refused: computed(() => describeRefused(work.assignment?.limits ?? [])),
    measuring,
    takes: computed(() => pieces.value.flatMap(({ take }) => take ?? [])),
    /** Photographs that do not stand on it. */
    others: computed(() =>
      photos.value.filter(({ id }) => !sheet.value.pieces.some(({ takeId }) => takeId === id)),
    ),
    recipeOf: (take: TakeView) => take.recipe?.recipe ?? createPlainRecipe(),
    canUndo: history.canUndo,
    canRedo: history.canRedo,
    read,
    change,
    make,
    undo: () => step(history.undo),
    redo: () => step(history.redo),
    /** Stops what is under way: laying it out, or measuring what came of it. */
    cancel: async () => {
      const running = job.value ?? measuring.value;
      if (running) await work.cancel(running.id).catch(notices.tellFault);
    },
    add: (takeId: string) => set([...sheet.value.pieces, buildPiece(takeId)]),
    remove: (takeId: string) => set(sheet.value.pieces.filter((piece) => piece.takeId !== takeId)),
    dropGone: () => set(pieces.value.flatMap(({ piece, take }) => (take ? [piece] : []))),
    write: (takeId: string, words: Partial<SheetPiece>) =>
      set(sheet.value.pieces.map((piece) => (piece.takeId === takeId ? { ...piece, ...words } : piece))),
    move: (from: number, to: number) => {
      const next = [...sheet.value.pieces];
      const [moved] = next.splice(from, 1);
      if (moved) set([...next.slice(0, to), moved, ...next.slice(to)]);
    },
  };
}
