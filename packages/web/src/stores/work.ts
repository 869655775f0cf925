import {
  EMPTY_SERIES,
  isSameRecipe,
  isStillKind,
  mendRecipe,
  readTakeSeries,
  type AssignmentView,
  type FitChoice,
  type JobView,
  type Limit,
  type ParcelInput,
  type Recipe,
  type TakeSeries,
  type TakeView,
} from '@apodix/core';
import { defineStore } from 'pinia';
import { computed, readonly, ref, shallowRef } from 'vue';
import { callRoute } from '../api/call-route.ts';
import { followLiveEvents } from '../api/live-events.ts';
import { useNotices } from './notices.ts';

/** One assignment with all of the person's work on it, kept up to date by the event stream. */
export const useWork = defineStore('work', () => {
  const assignment = shallowRef<AssignmentView | null>(null);
  const jobs = ref<Record<string, JobView>>({});
  const isMissing = ref(false);
  /** Series of takes by their address, read once each. */
  const series = shallowRef<Readonly<Record<string, TakeSeries>>>({});
  const asked = new Set<string>();
  let wantedId: string | null = null;
  let unfollow: (() => void) | null = null;
  let load: AbortController | null = null;

  const takes = computed(() => assignment.value?.takes ?? []);
  const readyTakes = computed(() => takes.value.filter((take) => take.state === 'ready'));
  const chosenTake = computed(
    () => readyTakes.value.find((take) => take.isChosen) ?? readyTakes.value[0] ?? null,
  );
  const activeJobs = computed(() =>
    Object.values(jobs.value).filter(
      (job) =>
        job.assignmentId === assignment.value?.id && (job.state === 'waiting' || job.state === 'running'),
    ),
  );

  function accept(view: AssignmentView): void {
    assignment.value = view;
    for (const job of view.jobs) jobs.value[job.id] = job;
    for (const take of view.takes) if (take.seriesUrl) void loadSeries(take.seriesUrl);
  }

  /** Reads the series of a take; pages go on without them until they are there. */
  async function loadSeries(url: string): Promise<void> {
    if (asked.has(url)) return;
    asked.add(url);
    try {
      const answer = await fetch(url, { credentials: 'same-origin' });
      if (!answer.ok) throw new Error(`The series could not be read: ${answer.status}.`);
      const read = readTakeSeries(new Uint8Array(await answer.arrayBuffer()));
      series.value = { ...series.value, [url]: read };
    } catch {
      // Asked for again with the next view.
      asked.delete(url);
    }
  }

  /** The series of a take; null while it is not read yet, empty for what stands still. */
  function seriesOf(take: TakeView | null): TakeSeries | null {
    if (!take?.facts) return null;
    if (isStillKind(take.facts.kind)) return EMPTY_SERIES;
    return take.seriesUrl ? (series.value[take.seriesUrl] ?? null) : EMPTY_SERIES;
  }

  /** Opens an assignment; a newer call cancels an older one. */
  async function open(id: string): Promise<void> {
    if (assignment.value?.id !== id) assignment.value = null;
    wantedId = id;
    isMissing.value = false;
    follow();
    await reload();
  }

  async function reload(): Promise<void> {
    if (wantedId === null) return;
    load?.abort();
    load = new AbortController();
    const { signal } = load;
    try {
      const view = await callRoute('readAssignment', { params: { assignmentId: wantedId }, signal });
      if (!signal.aborted) accept(view);
    } catch (error) {
      if (signal.aborted) return;
      isMissing.value = assignment.value === null;
      useNotices().tellFault(error);
    }
  }

  function follow(): void {
    unfollow ??= followLiveEvents(
      (event) => {
        if (event.type === 'job') {
          const { job } = event;
          jobs.value = { ...jobs.value, [job.id]: job };
          if (job.state !== 'running' && job.state !== 'waiting' && job.assignmentId === wantedId)
            void reload();
        } else if (event.assignmentId === wantedId) void reload();
      },
      () => void reload(),
    );
  }

  function close(): void {
    unfollow?.();
    unfollow = null;
    load?.abort();
    wantedId = null;
  }

  function findJob(takeId: string, kind: JobView['kind']): JobView | null {
    return activeJobs.value.find((job) => job.takeId === takeId && job.kind === kind) ?? null;
  }

  async function saveRecipe(takeId: string, recipe: Recipe, baseVersion: number): Promise<number> {
    const saved = await callRoute('writeRecipe', { params: { takeId }, body: { recipe, baseVersion } });
    if (assignment.value) {
      assignment.value = {
        ...assignment.value,
        takes: assignment.value.takes.map((take) => (take.id === takeId ? { ...take, recipe: saved } : take)),
      };
    }
    return saved.version;
  }
  async function chooseTake(takeId: string): Promise<void> {
    await callRoute('chooseTake', { params: { takeId }, body: { isChosen: true } });
    await reload();
  }
  async function saveChoice(takeId: string, choice: FitChoice | null): Promise<void> {
    await callRoute('chooseTake', { params: { takeId }, body: { choice } });
    await reload();
  }
  async function removeTake(takeId: string): Promise<void> {
    await callRoute('removeTake', { params: { takeId } });
    await reload();
  }
  async function renameMade(madeId: string, stem: string): Promise<void> {
    await callRoute('renameMade', { params: { madeId }, body: { stem } });
    await reload();
  }
  async function removeMade(madeId: string): Promise<void> {
    await callRoute('removeMade', { params: { madeId } });
    await reload();
  }
  async function make(takeId: string): Promise<void> {
    const { job } = await callRoute('makeFile', { params: { takeId } });
    if (job) jobs.value = { ...jobs.value, [job.id]: job };
    await reload();
  }
  async function sampleTake(takeId: string): Promise<void> {
    const { job } = await callRoute('sampleTake', { params: { takeId } });
    if (job) jobs.value = { ...jobs.value, [job.id]: job };
  }
  /** Mends what a machine can mend of the take's recipe and makes the file. */
  async function fitForMe(takeId: string): Promise<void> {
    const take = takes.value.find((each) => each.id === takeId);
    const own = seriesOf(take ?? null);
    if (take?.facts && own && take.recipe && assignment.value) {
      const mended = mendRecipe(take.recipe.recipe, take.facts, own, assignment.value.limits);
      if (!isSameRecipe(mended, take.recipe.recipe)) await saveRecipe(takeId, mended, take.recipe.version);
    }
    await make(takeId);
  }
  async function cancel(jobId: string): Promise<void> {
    const job = await callRoute('cancelJob', { params: { jobId } });
    jobs.value = { ...jobs.value, [job.id]: job };
  }
  async function saveParcel(parcel: ParcelInput): Promise<void> {
    if (assignment.value)
      accept(await callRoute('writeParcel', { params: { assignmentId: assignment.value.id }, body: parcel }));
  }
  async function saveLimits(limits: Limit[], instructions?: string): Promise<void> {
    if (assignment.value)
      accept(
        await callRoute('writeLimits', {
          params: { assignmentId: assignment.value.id },
          body: { limits, ...(instructions === undefined ? {} : { instructions }) },
        }),
      );
  }
  async function resetLimits(): Promise<void> {
    if (assignment.value)
      accept(await callRoute('resetLimits', { params: { assignmentId: assignment.value.id } }));
  }
  async function removeAssignment(): Promise<void> {
    if (!assignment.value) return;
    await callRoute('removeAssignment', { params: { assignmentId: assignment.value.id } });
    close();
  }
  async function handIn(): Promise<void> {
    if (!assignment.value) return;
    const job = await callRoute('handIn', { params: { assignmentId: assignment.value.id } });
    jobs.value = { ...jobs.value, [job.id]: job };
    await reload();
  }

  return {
    assignment: computed(() => assignment.value),
    isMissing: readonly(isMissing),
    takes,
    readyTakes,
    chosenTake,
    activeJobs,
    open,
    reload,
    close,
    findJob,
    seriesOf,
    saveRecipe,
    saveChoice,
    chooseTake,
    removeTake,
    renameMade,
    removeMade,
    make,
    sampleTake,
    fitForMe,
    cancel,
    saveParcel,
    saveLimits,
    resetLimits,
    removeAssignment,
    handIn,
  };
});
