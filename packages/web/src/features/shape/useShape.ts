import {
  addQuarterTurn,
  createPlainRecipe,
  EMPTY_SERIES,
  keepRange,
  mendRecipe,
  planTake,
  resolveKeep,
  snapRangeToFrames,
  type FrameTimes,
  type Recipe,
  type TimeRange,
} from '@apodix/core';
import { computed, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { useKeys } from '../../keys/useKeys.ts';
import { useNotices } from '../../stores/notices.ts';
import { useWork } from '../../stores/work.ts';
import { buildLedger, buildParcelRows, describeWork } from '../ledger/build-ledger.ts';
import { useFramePlayer } from './useFramePlayer.ts';
import { useRecipeEditor } from './useRecipeEditor.ts';

const SOUND_STEP_US = 10_000;
const WAITING = { stage: 'Waiting for a free place', share: 0, secondsLeft: null };

/** The shaping of one take of the open assignment: its recipe, its player, its limits. */
export function useShape() {
  const work = useWork();
  const notices = useNotices();
  const router = useRouter();
  const { query } = useRoute();
  const pickedId = ref(typeof query.take === 'string' ? query.take : null);
  const isBefore = ref(false);
  const isGoingOn = ref(false);
  const take = computed(
    () =>
      work.workableTakes.find((each) => each.id === pickedId.value) ??
      work.chosenTake ??
      work.workableTakes[0] ??
      null,
  );
  const editor = useRecipeEditor(take);
  const { recipe } = editor;
  /** What it is cut by: measured, or as far as it is known while it is being measured. */
  const facts = computed(() => take.value?.facts ?? take.value?.draft ?? null);
  const series = computed(() => work.seriesOf(take.value));
  const frames = computed<FrameTimes | null>(() =>
    facts.value?.video ? (series.value?.frames ?? null) : null,
  );
  const durationUs = computed(() => frames.value?.endUs ?? facts.value?.durationUs ?? 0);
  const frameUs = computed(() => {
    const rate = facts.value?.video?.frameRate;
    return rate ? Math.round((1e6 * rate.denominator) / rate.numerator) : SOUND_STEP_US;
  });
  const range = computed<TimeRange>(() =>
    facts.value
      ? resolveKeep(facts.value, recipe.value, series.value ?? EMPTY_SERIES)
      : { startUs: 0, finishUs: 1 },
  );
  const player = useFramePlayer({ frames, range, durationUs, frameUs });
  const result = computed(() =>
    work.assignment ? planTake(describeWork(work.assignment), take.value, recipe.value, series.value) : null,
  );
  const made = computed(
    () =>
      work.assignment?.made.find(
        (each) => each.takeId === take.value?.id && each.isCurrent && editor.isSaved.value,
      ) ?? null,
  );
  const rows = computed(() =>
    work.assignment
      ? [
          ...buildLedger(work.assignment, take.value, result.value, made.value, series.value),
          ...buildParcelRows(work.assignment, false, Date.now()),
        ]
      : [],
  );
  // A better picture of it takes the place of the first.
  watch(
    () => take.value?.proxyUrl,
    () => player.pause(),
  );
  watch(
    () => take.value?.id,
    () => player.reset(recipe.value.spans[0]?.startUs ?? 0),
    { immediate: true },
  );

  function setRange(next: TimeRange, isDragging: boolean): void {
    const snapped = frames.value ? snapRangeToFrames(frames.value, next) : next;
    const firstUs = frames.value?.timesUs[0] ?? 0;
    const isWhole = snapped.startUs <= firstUs && snapped.finishUs >= durationUs.value;
    editor.change(keepRange(recipe.value, isWhole ? null : snapped), isDragging);
  }
  function startHere(): void {
    const startUs = player.positionUs.value;
    if (startUs < range.value.finishUs) setRange({ startUs, finishUs: range.value.finishUs }, false);
  }
  /** The frame on screen is the last one that is kept. */
  function finishHere(): void {
    const finishUs = player.frameEndUs.value;
    if (finishUs > range.value.startUs) setRange({ startUs: range.value.startUs, finishUs }, false);
  }
  const changePicture = (changes: Partial<Recipe['picture']>) =>
    editor.change({ ...recipe.value, picture: { ...recipe.value.picture, ...changes } });
  const turn = (quarters: 1 | -1) =>
    changePicture({ turnDegrees: addQuarterTurn(recipe.value.picture.turnDegrees, quarters) });
  const mirror = () => changePicture({ isMirrored: !recipe.value.picture.isMirrored });
  const proposal = computed(() => take.value?.proposal ?? null);

  /** Makes what is on screen; where that could not be kept, nothing else is made in its place. */
  async function goOn(): Promise<void> {
    const [each, assignment] = [take.value, work.assignment];
    if (!each || !assignment) return;
    isGoingOn.value = true;
    try {
      if (!each.facts) return;
      if (series.value) editor.change(mendRecipe(recipe.value, each.facts, series.value, assignment.limits));
      if (!(await editor.save())) return;
      if (!made.value && result.value?.plan) await work.make(each.id);
      await router.push({ name: 'fit', params: { assignmentId: assignment.id } });
    } catch (error) {
      notices.tellFault(error);
    } finally {
      isGoingOn.value = false;
    }
  }
  useKeys({
    'start-here': startHere,
    'finish-here': finishHere,
    'frame-back': () => player.step(-1),
    'frame-on': () => player.step(1),
    play: player.toggle,
    before: () => (isBefore.value = !isBefore.value),
    undo: editor.undo,
    redo: editor.redo,
  });
  return {
    take,
    editor,
    recipe,
    player,
    series,
    range,
    durationUs,
    frameUs,
    made,
    rows,
    proposal,
    isBefore,
    isGoingOn,
    /** How far measuring has come; null once it is done. */
    measuring: computed(() =>
      take.value && !take.value.facts ? (work.findJob(take.value.id, 'inspect') ?? WAITING) : null,
    ),
    isTimed: computed(() => facts.value !== null && facts.value.durationUs !== null),
    pick: (id: string) => (pickedId.value = id),
    setRange,
    startHere,
    finishHere,
    turn,
    mirror,
    useProposal: () => proposal.value && editor.change(proposal.value.recipe),
    keepAll: () => editor.change({ ...createPlainRecipe(), sound: recipe.value.sound }),
    goOn,
  };
}
