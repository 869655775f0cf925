import {
  cutAt,
  findCutPlaces,
  readCeilings,
  snapRangeToFrames,
  type CutPlace,
  type FrameTimes,
  type Limit,
  type MediaFacts,
  type OtherTake,
  type Recipe,
  type RecipeSpan,
  type TakeSeries,
  type TimeRange,
} from '@apodix/core';
import { computed, ref, watch, type ComputedRef } from 'vue';
import type { RecipeEditor } from '../useRecipeEditor.ts';
import { addPartOf, keepSpans } from './joined-parts.ts';
import { dissolveInto, listParts, measureParts, removePart, reorderParts, splitParts } from './parts.ts';

export interface CutOptions {
  readonly editor: RecipeEditor;
  readonly takeId: ComputedRef<string | null>;
  readonly facts: ComputedRef<Pick<MediaFacts, 'video' | 'sound' | 'durationUs'> | null>;
  readonly series: ComputedRef<TakeSeries | null>;
  readonly frames: ComputedRef<FrameTimes | null>;
  readonly durationUs: ComputedRef<number>;
  readonly limits: ComputedRef<readonly Limit[]>;
  /** Takes that parts may be joined from, or are. */
  readonly others: ComputedRef<readonly OtherTake[]>;
}

/** Which parts of a take are kept: the one that is worked on, and what limits say of them all. */
export function useCut(options: CutOptions) {
  const { editor, facts, series, frames, durationUs, limits } = options;
  const index = ref(0);
  const firstUs = computed(() => frames.value?.timesUs[0] ?? 0);
  const whole = computed<TimeRange>(() => ({
    startUs: firstUs.value,
    finishUs: Math.max(firstUs.value + 1, durationUs.value),
  }));
  const parts = computed(() => listParts(editor.recipe.value.spans, whole.value));
  const chosen = computed(() => Math.max(0, Math.min(index.value, parts.value.length - 1)));
  const range = computed<TimeRange>(() => {
    const part = parts.value[chosen.value] ?? whole.value;
    return { startUs: part.startUs, finishUs: part.finishUs };
  });
  watch(options.takeId, () => (index.value = 0));

  const keep = (spans: Recipe['spans'], isDragging = false) =>
    editor.change(keepSpans(editor.recipe.value, [...spans]), isDragging);
  const snap = (next: TimeRange) => (frames.value ? snapRangeToFrames(frames.value, next) : next);
  /** The take that a part is of, where it is another one. */
  const findOther = (part: RecipeSpan | undefined) =>
    options.others.value.find(
      (each) => part && part.source > 0 && each.takeId === editor.recipe.value.sources[part.source]?.takeId,
    );
  const boundsOf = ({ facts: own, series: along }: Pick<OtherTake, 'facts' | 'series'>): TimeRange => ({
    startUs: own.video ? (along.frames?.timesUs[0] ?? 0) : 0,
    finishUs: (own.video ? along.frames?.endUs : null) ?? own.durationUs ?? 1,
  });
  function setOtherRange(other: OtherTake, next: TimeRange, isDragging: boolean): void {
    const bounds = boundsOf(other);
    const startUs = Math.max(bounds.startUs, Math.min(next.startUs, bounds.finishUs - 1));
    const inside = { startUs, finishUs: Math.max(startUs + 1, Math.min(next.finishUs, bounds.finishUs)) };
    const times = other.facts.video ? other.series.frames : null;
    const range = times ? snapRangeToFrames(times, inside) : inside;
    keep(
      parts.value.map((part, each) => (each === chosen.value ? { ...part, ...range } : part)),
      isDragging,
    );
  }
  function setRange(next: TimeRange, isDragging: boolean): void {
    const other = findOther(parts.value[chosen.value]);
    if (other) return setOtherRange(other, next, isDragging);
    const snapped = snap(next);
    const isWhole = snapped.startUs <= firstUs.value && snapped.finishUs >= durationUs.value;
    if (parts.value.length <= 1) return keep(isWhole ? [] : [{ source: 0, ...snapped }], isDragging);
    keep(
      parts.value.map((part, each) => (each === chosen.value ? { ...part, ...snapped } : part)),
      isDragging,
    );
  }
  const ceilings = computed(() => readCeilings(limits.value, facts.value?.video ? 'video' : 'sound'));
  const keptUs = computed(
    () => measureParts(parts.value) + (facts.value?.video ? (editor.recipe.value.card?.lengthUs ?? 0) : 0),
  );
  const overUs = computed(() =>
    ceilings.value.maxUs === null ? 0 : Math.max(0, keptUs.value - ceilings.value.maxUs),
  );
  const places = computed(() =>
    parts.value.length === 1 && parts.value[0]?.source === 0
      ? findCutPlaces(range.value, ceilings.value.maxUs, series.value?.peaks ?? null, ceilings.value.minUs)
      : [],
  );
  const oneTake = computed(() => limits.value.find((limit) => limit.kind === 'one-take'));

  return {
    parts,
    chosen,
    range,
    overUs,
    places,
    /** By how much it is too short; less than a frame is a matter of rounding. */
    underUs: computed(() => {
      const under = (ceilings.value.minUs ?? 0) - keptUs.value;
      return under > 50_000 && facts.value ? under : 0;
    }),
    isAll: computed(() => editor.recipe.value.spans.length === 0),
    oneTakeWords: computed(() =>
      oneTake.value
        ? oneTake.value.severity === 'must'
          ? 'The assignment wants one unbroken take: one part, nothing left out inside.'
          : 'The assignment would like one unbroken take.'
        : null,
    ),
    setRange,
    choose: (next: number) => (index.value = next),
    split: (atUs: number) => {
      const next = splitParts(parts.value, snap({ startUs: atUs, finishUs: atUs + 1 }).startUs);
      if (next.length === parts.value.length) return;
      index.value = next.findIndex((part) => part.startUs >= atUs - 1);
      keep(next);
    },
    remove: (at: number) => {
      const next = removePart(parts.value, at);
      index.value = Math.min(index.value, next.length - 1);
      keep(next);
    },
    reorder: (from: number, to: number) => {
      keep(reorderParts(parts.value, from, to));
      index.value = to;
    },
    cutAt: (place: CutPlace) => {
      const own = facts.value;
      if (!own || !series.value) return;
      editor.change(
        cutAt(editor.recipe.value, own as MediaFacts, series.value, place.atUs, ceilings.value.maxUs),
      );
    },
    /** How long the one before goes over into the part that is worked on; null for a cut. */
    dissolve: (us: number | null) => keep(dissolveInto(parts.value, chosen.value, us)),
    keepAll: () => keep([]),
    /** A part of another take comes last: what its own recipe keeps of it, else all of it. */
    add: (takeId: string, wanted: TimeRange | null) => {
      const other = options.others.value.find((each) => each.takeId === takeId);
      if (!other) return;
      index.value = parts.value.length;
      editor.change(addPartOf(editor.recipe.value, takeId, wanted ?? boundsOf(other), whole.value));
    },
  };
}
