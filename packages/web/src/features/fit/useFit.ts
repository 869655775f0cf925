import {
  buildOffers,
  buildPlanInput,
  isEveryMustMet,
  isLeftToPerson,
  isSampled,
  planSamples,
  planTake,
  type FitChoice,
  type MadeView,
  type TakeView,
} from '@apodix/core';
import { computed, ref, watch } from 'vue';
import { readSign, type SignStates } from '../../components/read-sign.ts';
import { useRoute } from 'vue-router';
import { useNotices } from '../../stores/notices.ts';
import { useWork } from '../../stores/work.ts';
import { buildLedger, describeWork } from '../ledger/build-ledger.ts';
import { useTakeWork } from '../work/useTakeWork.ts';
import { describeOtherLimits } from './describe-other-limits.ts';
import { describePlan } from './describe-plan.ts';
import { divideBytes } from './divide-bytes.ts';
import { placeOnCurve } from './place-on-curve.ts';

/** The fitting of one take of the open assignment: what it would be, what it can be, what was made. */
export function useFit() {
  const work = useWork();
  const notices = useNotices();
  const { query } = useRoute();
  /** The one that was worked on before, where somebody comes from there. */
  const pickedId = ref<string | null>(typeof query.take === 'string' ? query.take : null);
  const picked = computed(
    () => work.readyTakes.find((each) => each.id === pickedId.value) ?? work.chosenTake,
  );
  const { take, result, made, rows, caption } = useTakeWork(picked);
  const plan = computed(() => made.value?.plan ?? result.value?.plan ?? null);
  const isVideo = computed(() => take.value?.kind === 'video' && plan.value?.kind === 'video');
  const findJob = (kind: 'make' | 'sample') => (take.value ? work.findJob(take.value.id, kind) : null);
  const findMade = (takeId: string): MadeView | null =>
    work.assignment?.made.find((file) => file.takeId === takeId && file.isCurrent) ?? null;
  const sizeLimit = computed(() => {
    const limit = rows.value.find((row) => row.limit.kind === 'file-size')?.limit;
    return limit?.kind === 'file-size' ? limit : null;
  });
  const unmade = computed(() =>
    work.readyTakes.filter((each) => !work.findJob(each.id, 'make') && findMade(each.id) === null),
  );
  const planOf = (each: TakeView) =>
    work.assignment &&
    planTake(
      describeWork(work.assignment),
      each,
      each.recipe?.recipe ?? null,
      work.seriesOf(each),
      work.othersOf(each.recipe?.recipe ?? null),
    );
  /** The sign of a take in the table: what each stage found of it. */
  function readSignOf(each: TakeView): SignStates {
    if (!work.assignment) return readSign([]);
    const file = findMade(each.id);
    const ledger = buildLedger(
      work.assignment,
      each,
      planOf(each),
      file,
      work.seriesOf(each),
      work.othersOf(each.recipe?.recipe ?? null),
    );
    const before = ledger.flatMap((row) => [row.measured, row.planned]).filter((finding) => finding !== null);
    return readSign([...before, ...(file?.findings ?? [])]);
  }
  const offers = computed(() => {
    const each = take.value;
    if (!work.assignment || !each || !isVideo.value) return null;
    const recipe = each.recipe?.recipe ?? null;
    const input = buildPlanInput(
      describeWork(work.assignment),
      each,
      recipe,
      work.seriesOf(each),
      work.othersOf(recipe),
    );
    return input ? buildOffers(input) : null;
  });

  // What each size would look like is tried out on samples; where they are missing or were taken for other
  // limits, they are asked for.
  watch(
    [() => take.value?.id, () => work.assignment?.limits, () => work.seriesOf(take.value)],
    async () => {
      const each = take.value;
      const series = work.seriesOf(each);
      if (!each?.facts || !series || !each.recipe || !work.assignment) return;
      const wanted = planSamples(each.facts, series, each.recipe.recipe, work.assignment.limits);
      if (wanted && !isSampled(each.samples, wanted)) await work.sampleTake(each.id).catch(() => undefined);
    },
    { immediate: true },
  );

  const tell = (doing: Promise<unknown>) => doing.catch(notices.tellFault);
  return {
    take,
    result,
    made,
    rows,
    caption,
    plan,
    isVideo,
    offers,
    unmade,
    sizeLimit,
    job: computed(() => findJob('make')),
    sampling: computed(() => findJob('sample')),
    failed: computed(
      () =>
        work.assignment?.jobs.find(
          (each) => each.kind === 'make' && each.takeId === take.value?.id && each.state === 'failed',
        ) ?? null,
    ),
    everyMustMet: computed(() => made.value !== null && isEveryMustMet(made.value.findings)),
    left: computed(() => (made.value?.findings ?? []).filter(isLeftToPerson).map(({ label }) => label)),
    proof: computed(() => made.value?.findings.filter((finding) => finding.of === 'proof') ?? []),
    older: computed(
      () => work.assignment?.made.filter((each) => each.takeId === take.value?.id && !each.isCurrent) ?? [],
    ),
    lines: computed(() => (plan.value ? describePlan(plan.value) : [])),
    parts: computed(() => (plan.value ? divideBytes(plan.value, made.value?.sizeBytes ?? null) : [])),
    table: computed(() =>
      work.readyTakes.length < 2
        ? []
        : work.readyTakes.map((each) => ({
            take: each,
            result: planOf(each),
            made: findMade(each.id),
            sign: readSignOf(each),
            share: work.findJob(each.id, 'make')?.share ?? null,
          })),
    ),
    madePoints: computed(() =>
      (work.assignment?.made ?? []).flatMap((file) =>
        file.takeId === take.value?.id && file.comparison?.picture
          ? [{ sizeBytes: file.sizeBytes, ssim: placeOnCurve(file), isCurrent: file.isCurrent }]
          : [],
      ),
    ),
    otherLimits: computed(() =>
      work.assignment && take.value?.facts?.video
        ? describeOtherLimits(work.assignment.limits, take.value.facts.video)
        : [],
    ),
    pick: (id: string) => (pickedId.value = id),
    choose: async (next: FitChoice | null) => take.value && tell(work.saveChoice(take.value.id, next)),
    make: async () => take.value && tell(work.make(take.value.id)),
    fitForMe: async () => take.value && tell(work.fitForMe(take.value.id)),
    makeAll: async () => {
      for (const each of unmade.value) await tell(work.make(each.id));
    },
    rename: (file: MadeView, stem: string) => tell(work.renameMade(file.id, stem)),
    remove: (file: MadeView) => tell(work.removeMade(file.id, file.fileName)),
    cancel: (jobId: string) => tell(work.cancel(jobId)),
  };
}
