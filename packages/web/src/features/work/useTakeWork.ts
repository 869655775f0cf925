import { computed, type ComputedRef } from 'vue';
import { planTake, type MadeView, type PlanResult, type TakeView } from '@apodix/core';
import { buildLedger, buildParcelRows, describeWork, type LedgerRow } from '../ledger/build-ledger.ts';
import { useWork } from '../../stores/work.ts';

/** The chosen take with its saved recipe, plan, newest current made file and ledger. */
export function useTakeWork(selected?: ComputedRef<TakeView | null>): {
  take: ComputedRef<TakeView | null>;
  result: ComputedRef<PlanResult | null>;
  made: ComputedRef<MadeView | null>;
  rows: ComputedRef<LedgerRow[]>;
  caption: ComputedRef<string>;
} {
  const work = useWork();
  const take = computed(() => selected?.value ?? work.chosenTake);
  const series = computed(() => work.seriesOf(take.value));
  const others = computed(() => work.othersOf(take.value?.recipe?.recipe ?? null));
  const result = computed(() =>
    work.assignment
      ? planTake(
          describeWork(work.assignment),
          take.value,
          take.value?.recipe?.recipe ?? null,
          series.value,
          others.value,
        )
      : null,
  );
  const made = computed(
    () => work.assignment?.made.find((each) => each.takeId === take.value?.id && each.isCurrent) ?? null,
  );
  const rows = computed(() =>
    work.assignment
      ? [
          ...buildLedger(work.assignment, take.value, result.value, made.value, series.value, others.value),
          ...buildParcelRows(work.assignment, false, Date.now()),
        ]
      : [],
  );
  const caption = computed(() => {
    if (!take.value) return 'before recording';
    const musts = rows.value.filter((row) => row.limit.severity === 'must').length;
    const shoulds = rows.value.length - musts;
    return shoulds ? `${musts} must · ${shoulds} should` : `${musts} must`;
  });
  return { take, result, made, rows, caption };
}
