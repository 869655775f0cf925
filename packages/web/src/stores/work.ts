import {
  type Answers,
  EMPTY_SERIES,
  isSameRecipe,
  isStillKind,
  mendRecipe,
  applyOthers,
  type OpeningCard,
  type OtherTake,
  readTakeSeries,
  type AssignmentView,
  type FitChoice,
  type JobView,
  type Limit,
  type ParcelInput,
  type Recipe,
  type SizePx,
  type TakeSeries,
  type TakeView,
} from '@apodix/core';
import { useQuery } from '@tanstack/vue-query';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import { callRoute } from '../api/call-route.ts';
import { isNotHere, isUnreachable, queryClient, queryKeys } from '../api/query-client.ts';
import { findDueInstant } from '../composables/local-now.ts';
import { useLive } from './live.ts';
import { useNotices } from './notices.ts';

/** One assignment with all of the person's work on it, kept up to date by the event stream. */
export const useWork = defineStore('work', () => {
  const live = useLive();
  const notices = useNotices();
  const openId = ref<string | null>(null);
  const query = useQuery(
    {
      queryKey: computed(() => queryKeys.assignment(openId.value)),
      queryFn: ({ queryKey: [, id], signal }) =>
        callRoute('readAssignment', { params: { assignmentId: id ?? '' }, signal }),
      enabled: computed(() => openId.value !== null),
    },
    queryClient,
  );
  const assignment = computed<AssignmentView | null>(() => query.data.value ?? null);
  const hasNone = computed(() => assignment.value === null && query.isError.value);
  const takes = computed(() => assignment.value?.takes ?? []);
  const readyTakes = computed(() => takes.value.filter((take) => take.state === 'ready'));
  /** Those that can be played and cut, measured or not. */
  const workableTakes = computed(() =>
    takes.value.filter(
      (take) =>
        take.state === 'ready' ||
        (take.state === 'inspecting' && take.draft !== null && take.proxyUrl !== null),
    ),
  );
  /** A recording goes before photographs: a still taken from it does not take its place. */
  const chosenTake = computed(() => {
    const chosen = readyTakes.value.filter((take) => take.isChosen);
    return chosen.find((take) => !isStillKind(take.kind)) ?? chosen[0] ?? readyTakes.value[0] ?? null;
  });
  const activeJobs = computed(() =>
    Object.values(live.jobs).filter(
      (job) => job.assignmentId === openId.value && (job.state === 'waiting' || job.state === 'running'),
    ),
  );
  const series = useSeries(takes);
  watch(assignment, (view) => view && live.settle(view.id, view.jobs), { immediate: true });

  /** Opens an assignment; answers of others that come late find their own place. */
  function open(id: string): void {
    openId.value = id;
  }
  function close(): void {
    openId.value = null;
  }
  async function reload(): Promise<void> {
    await query.refetch();
  }
  const requireId = (): string => {
    if (openId.value === null) throw new TypeError('No assignment is open.');
    return openId.value;
  };
  const nameTake = (takeId: string) => ({ assignmentId: requireId(), takeId });
  /** What an answer told holds, whatever was asked before. */
  async function accept(view: AssignmentView): Promise<void> {
    const queryKey = queryKeys.assignment(view.id);
    await queryClient.cancelQueries({ queryKey });
    queryClient.setQueryData(queryKey, view);
    void queryClient.invalidateQueries({ queryKey: queryKeys.today });
  }
  const readAnew = (id: string) => queryClient.invalidateQueries({ queryKey: queryKeys.assignment(id) });
  const findJob = (takeId: string, kind: JobView['kind']): JobView | null =>
    activeJobs.value.find((job) => job.takeId === takeId && job.kind === kind) ?? null;

  /** Keeps a recipe, whichever assignment is open by then; gives its version. */
  async function saveRecipe(takeId: string, recipe: Recipe, baseVersion: number): Promise<number> {
    const saved = await callRoute('writeRecipe', { params: { takeId }, body: { recipe, baseVersion } });
    const withRecipe = (take: TakeView) => (take.id === takeId ? { ...take, recipe: saved } : take);
    queryClient.setQueriesData<AssignmentView>(
      { queryKey: queryKeys.assignments },
      (view) => view && { ...view, takes: view.takes.map(withRecipe) },
    );
    return saved.version;
  }
  async function chooseTake(takeId: string): Promise<void> {
    const params = nameTake(takeId);
    await callRoute('chooseTake', { params, body: { isChosen: true } });
    await readAnew(params.assignmentId);
  }
  async function saveChoice(takeId: string, choice: FitChoice | null): Promise<void> {
    const params = nameTake(takeId);
    await callRoute('chooseTake', { params, body: { choice } });
    await readAnew(params.assignmentId);
  }
  /** Whether making a take may begin before it is asked for. */
  async function allowAhead(takeId: string, isMadeAhead: boolean): Promise<void> {
    const params = nameTake(takeId);
    await callRoute('chooseTake', { params, body: { isMadeAhead } });
    await readAnew(params.assignmentId);
  }
  /** Removes something; a notice offers to bring it back. */
  async function removeWithUndo(
    name: string,
    remove: () => Promise<unknown>,
    restore: () => Promise<unknown>,
  ): Promise<void> {
    const id = requireId();
    await remove();
    await readAnew(id);
    notices.addWithUndo(`${name} is removed.`, async () => {
      await restore();
      await readAnew(id);
    });
  }
  const removeTake = (takeId: string, name: string) =>
    removeWithUndo(
      name,
      () => callRoute('removeTake', { params: { takeId } }),
      () => callRoute('restoreTake', { params: { takeId } }),
    );
  const removeMade = (madeId: string, name: string) =>
    removeWithUndo(
      name,
      () => callRoute('removeMade', { params: { madeId } }),
      () => callRoute('restoreMade', { params: { madeId } }),
    );
  const useTake = async (takeId: string) => accept(await callRoute('useTake', { params: nameTake(takeId) }));
  const leaveTake = async (takeId: string) =>
    accept(await callRoute('leaveTake', { params: nameTake(takeId) }));
  async function renameMade(madeId: string, stem: string): Promise<void> {
    const id = requireId();
    await callRoute('renameMade', { params: { madeId }, body: { stem } });
    await readAnew(id);
  }
  async function make(takeId: string): Promise<void> {
    const params = nameTake(takeId);
    const { job } = await callRoute('makeFile', { params });
    if (job) live.accept([job]);
    else await readAnew(params.assignmentId);
  }
  /** The takes that a recipe names beside its own, as far as they are known here. */
  function othersOf(recipe: Recipe | null): OtherTake[] {
    return (recipe?.sources ?? []).flatMap(({ takeId }) => {
      const other = takeId === null ? undefined : takes.value.find((each) => each.id === takeId);
      const own = series.of(other ?? null);
      return other?.facts && own ? [{ takeId: other.id, facts: other.facts, series: own }] : [];
    });
  }
  const alignTake = (takeId: string, soundTakeId: string) =>
    callRoute('alignTake', { params: { takeId }, body: { soundTakeId } });
  /** An opening card as it will stand in the made file: SVG of outlines. */
  const drawCard = async (takeId: string, card: OpeningCard, size: SizePx) =>
    (
      await callRoute('drawCard', {
        params: { takeId },
        body: { card, widthPx: size.widthPx, heightPx: size.heightPx },
      })
    ).svg;
  /** A frame of a take, as it was recorded, becomes a take of its own. */
  async function takeStill(takeId: string, frame: number): Promise<void> {
    const assignmentId = requireId();
    await callRoute('takeStill', { params: { takeId }, body: { frame, assignmentId } });
    await readAnew(assignmentId);
  }
  /** Photographs of one piece become one without the lamp in it; gives the share taken from others. */
  async function mergeShots(takeId: string, takeIds: readonly string[]): Promise<number> {
    const assignmentId = requireId();
    const body = { takeIds: [...takeIds], assignmentId };
    const { replacedShare } = await callRoute('mergeShots', { params: { takeId }, body });
    await readAnew(assignmentId);
    return replacedShare;
  }
  async function measureShake(takeId: string): Promise<void> {
    const { job } = await callRoute('measureShake', { params: nameTake(takeId) });
    if (job) live.accept([job]);
  }
  async function sampleTake(takeId: string): Promise<void> {
    const { job } = await callRoute('sampleTake', { params: nameTake(takeId) });
    if (job) live.accept([job]);
  }
  /** Sound level and length are set so that the file passes, then it is made. */
  async function fitForMe(takeId: string): Promise<void> {
    const take = takes.value.find((each) => each.id === takeId);
    const own = series.of(take ?? null);
    if (take?.facts && own && take.recipe && assignment.value) {
      const { recipe } = take.recipe;
      const whole = applyOthers({ facts: take.facts, series: own }, recipe, othersOf(recipe));
      const mended = mendRecipe(recipe, whole.facts, whole.series, assignment.value.limits);
      if (!isSameRecipe(mended, recipe)) await saveRecipe(takeId, mended, take.recipe.version);
    }
    await make(takeId);
  }
  async function cancel(jobId: string): Promise<void> {
    live.accept([await callRoute('cancelJob', { params: { jobId } })]);
  }
  const saveParcel = async (parcel: ParcelInput, assignmentId = requireId()) =>
    accept(await callRoute('writeParcel', { params: { assignmentId }, body: parcel }));
  async function saveLimits(limits: Limit[], instructions?: string, answers?: Answers): Promise<void> {
    const before = assignment.value;
    const dueAt = findDueInstant(limits);
    const isDueChanged = before?.isMine === true && dueAt !== findDueInstant(before.limits);
    const body = {
      limits,
      ...(isDueChanged ? { dueAt } : {}),
      ...(instructions === undefined ? {} : { instructions }),
      ...(answers === undefined ? {} : { answers }),
    };
    await accept(await callRoute('writeLimits', { params: { assignmentId: requireId() }, body }));
  }
  async function resetLimits(): Promise<void> {
    await accept(await callRoute('resetLimits', { params: { assignmentId: requireId() } }));
  }
  async function confirmChanges(): Promise<void> {
    const assignmentId = requireId();
    await callRoute('confirmChanges', { params: { assignmentId } });
    await readAnew(assignmentId);
  }
  async function removeAssignment(): Promise<void> {
    const [params, title] = [{ assignmentId: requireId() }, assignment.value?.title ?? ''];
    await callRoute('removeAssignment', { params });
    close();
    void queryClient.invalidateQueries({ queryKey: queryKeys.today });
    notices.addWithUndo(`${title} is removed, with its takes and files.`, () =>
      callRoute('restoreAssignment', { params }),
    );
  }
  async function handIn(): Promise<void> {
    const assignmentId = requireId();
    live.accept([await callRoute('handIn', { params: { assignmentId } })]);
    await readAnew(assignmentId);
  }
  async function noteByHand(note: string): Promise<void> {
    await accept(await callRoute('noteByHand', { params: { assignmentId: requireId() }, body: { note } }));
  }
  const takeBack = async () => accept(await callRoute('takeBack', { params: { assignmentId: requireId() } }));

  return {
    assignment,
    isMissing: computed(() => hasNone.value && isNotHere(query.error.value)),
    isOffline: computed(() => hasNone.value && isUnreachable(query.error.value)),
    fault: computed(() => (hasNone.value ? query.error.value : null)),
    takes,
    readyTakes,
    workableTakes,
    chosenTake,
    activeJobs,
    open,
    reload,
    close,
    findJob,
    seriesOf: series.of,
    othersOf,
    alignTake,
    saveRecipe,
    saveChoice,
    allowAhead,
    chooseTake,
    removeTake,
    useTake,
    leaveTake,
    renameMade,
    removeMade,
    make,
    sampleTake,
    measureShake,
    takeStill,
    mergeShots,
    drawCard,
    fitForMe,
    cancel,
    saveParcel,
    saveLimits,
    resetLimits,
    confirmChanges,
    removeAssignment,
    handIn,
    noteByHand,
    takeBack,
  };
});

/** Series of takes by their address, read once each. */
function useSeries(takes: { readonly value: readonly TakeView[] }) {
  const read = shallowRef<Readonly<Record<string, TakeSeries>>>({});

  async function load(url: string): Promise<void> {
    const own = await queryClient.fetchQuery({
      queryKey: ['series', url],
      staleTime: Infinity,
      queryFn: async ({ signal }) => {
        const answer = await fetch(url, { credentials: 'same-origin', signal });
        if (!answer.ok) throw new Error(`The series could not be read: ${answer.status}.`);
        return readTakeSeries(new Uint8Array(await answer.arrayBuffer()));
      },
    });
    read.value = { ...read.value, [url]: own };
  }
  watch(
    () => takes.value.map((take) => take.seriesUrl).filter((url) => url !== null),
    (urls) => {
      // One that cannot be read now is asked for again with the next view.
      for (const url of urls) if (!read.value[url]) void load(url).catch(() => undefined);
    },
    { immediate: true },
  );
  return {
    /** The series of a take; null while it is not read yet, empty for what stands still. */
    of: (take: TakeView | null): TakeSeries | null => {
      if (!take?.facts && !take?.draft) return null;
      if (take.facts && isStillKind(take.facts.kind)) return EMPTY_SERIES;
      return take.seriesUrl ? (read.value[take.seriesUrl] ?? null) : EMPTY_SERIES;
    },
  };
}
