import {
  cleanDisplayName,
  readKeptRange,
  applyOthers,
  createPlainRecipe,
  mendRecipe,
  planTake,
  type FrameTimes,
  type TimeRange,
} from '@apodix/core';
import { computed, ref, shallowRef, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { useKeys } from '../../keys/useKeys.ts';
import { useNotices } from '../../stores/notices.ts';
import { useWork } from '../../stores/work.ts';
import { buildLedger, buildParcelRows, describeWork } from '../ledger/build-ledger.ts';
import { copyGroup, type SharedGroup } from './copy-group.ts';
import { useShapeColor } from './color/useShapeColor.ts';
import { measureParts } from './cut/parts.ts';
import { useCut } from './cut/useCut.ts';
import { useShapeFrame } from './frame/useShapeFrame.ts';
import { useSeparateRecording } from './sound/useSeparateRecording.ts';
import { useShapeSound } from './sound/useShapeSound.ts';
import { useSoundPreview } from './sound/useSoundPreview.ts';
import { zoomView } from './strip-layout.ts';
import { useGuests } from './cut/useGuests.ts';
import { useFramePlayer, type Playable, type Seeker } from './useFramePlayer.ts';
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
  const isTakingStill = ref(false);
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
  const limits = computed(() => work.assignment?.limits ?? []);
  /** Measured takes of the same kind, whose parts may be joined to it. */
  const joinableTakes = computed(() =>
    work.takes.flatMap((each) => {
      const own = each.id !== take.value?.id && each.kind === take.value?.kind ? work.seriesOf(each) : null;
      return each.facts && own ? [{ takeId: each.id, facts: each.facts, series: own }] : [];
    }),
  );
  const cut = useCut({
    editor,
    takeId: computed(() => take.value?.id ?? null),
    facts,
    series,
    frames,
    durationUs,
    limits,
    others: joinableTakes,
  });
  const guests = useGuests(editor.recipe);
  const player = useFramePlayer({
    frames,
    parts: cut.parts,
    durationUs,
    frameUs,
    guestOf: guests.of,
    chosen: cut.chosen,
  });
  const frame = useShapeFrame({ editor, take, facts, series, limits, positionUs: player.positionUs });
  const color = useShapeColor(editor, take);
  const sound = useShapeSound({
    editor,
    take,
    series,
    positionUs: player.positionUs,
    limits,
    othersOf: work.othersOf,
  });
  const recording = useSeparateRecording(editor, take);
  const heard = shallowRef<HTMLMediaElement | null>(null);
  useSoundPreview(
    heard,
    computed(() => (isBefore.value ? null : recipe.value.sound)),
    player.isPlaying,
  );
  function attach(element: Playable | null, seeker: Seeker | null = null): void {
    heard.value = element instanceof HTMLMediaElement ? element : null;
    player.attach(element, seeker);
  }
  const view = ref<TimeRange>({ startUs: 0, finishUs: 1 });
  watch([() => take.value?.id, durationUs], () => (view.value = { startUs: 0, finishUs: durationUs.value }), {
    immediate: true,
  });
  const zoom = (factor: number) =>
    (view.value = zoomView(view.value, factor, player.positionUs.value, {
      durationUs: durationUs.value,
      leastUs: 12 * frameUs.value,
    }));
  const nameOf = (id: string) => work.takes.find((each) => each.id === id)?.name ?? 'a take that is gone';
  const others = computed(() => work.othersOf(recipe.value));
  const result = computed(() =>
    work.assignment
      ? planTake(describeWork(work.assignment), take.value, recipe.value, series.value, others.value)
      : null,
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
          ...buildLedger(work.assignment, take.value, result.value, made.value, series.value, others.value),
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
    () => {
      player.reset(recipe.value.spans[0]?.startUs ?? 0);
    },
    { immediate: true },
  );

  // What is worked on is on screen, as soon as it can be played.
  watch([cut.chosen, () => cut.parts.value.length, guests.count], () => {
    if (!player.isPlaying.value) player.show(cut.parts.value[cut.chosen.value]);
  });
  const isOwnPart = computed(() => (cut.parts.value[cut.chosen.value]?.source ?? 0) === 0);
  function startHere(): void {
    if (!isOwnPart.value) return;
    const startUs = player.positionUs.value;
    if (startUs < cut.range.value.finishUs)
      cut.setRange({ startUs, finishUs: cut.range.value.finishUs }, false);
  }
  /** The frame on screen is the last one that is kept. */
  function finishHere(): void {
    if (!isOwnPart.value) return;
    const finishUs = player.frameEndUs.value;
    if (finishUs > cut.range.value.startUs)
      cut.setRange({ startUs: cut.range.value.startUs, finishUs }, false);
  }
  const proposal = computed(() => take.value?.proposal ?? null);
  /** The other takes of the assignment that are of the same kind. */
  const listOthers = () =>
    work.takes.filter(
      ({ id, kind }) => id !== take.value?.id && kind === take.value?.kind && kind !== 'document',
    );
  /** A group of what is on screen goes to every other take of the assignment. */
  async function useOnAll(group: SharedGroup): Promise<void> {
    const others = listOthers();
    const before = others.map((each) => each.recipe?.recipe ?? createPlainRecipe());
    const versions: number[] = [];
    try {
      for (const [index, each] of others.entries()) {
        const next = copyGroup(recipe.value, before[index] ?? createPlainRecipe(), group);
        versions.push(await work.saveRecipe(each.id, next, each.recipe?.version ?? 0));
      }
      const whose = others.length === 1 ? 'The other take has' : `${others.length} other takes have`;
      notices.addWithUndo(`${whose} these settings now.`, async () => {
        for (const [index, each] of others.entries())
          await work.saveRecipe(each.id, before[index] ?? createPlainRecipe(), versions[index] ?? 0);
      });
    } catch (error) {
      notices.tellFault(error);
    }
  }
  const isHidingAny = () => recipe.value.picture.hidden.length > 0;
  async function takeStill(): Promise<void> {
    const [own, frame] = [take.value, player.frameIndex.value];
    if (!own || frame === null) return;
    isTakingStill.value = true;
    try {
      await work.takeStill(own.id, frame);
      notices.add(
        `Frame ${frame} is a photo now: see Takes.`,
        isHidingAny() ? 'Nothing is hidden in it.' : '',
      );
    } catch (error) {
      notices.tellFault(error);
    } finally {
      isTakingStill.value = false;
    }
  }

  /** Longer than a *must* allows: where it ends is not chosen for anybody. */
  const isTooLong = computed(() =>
    limits.value.some(
      (limit) =>
        limit.kind === 'length' &&
        limit.severity === 'must' &&
        limit.maxUs !== null &&
        cut.overUs.value > 0 &&
        measureParts(cut.parts.value) > limit.maxUs,
    ),
  );
  /** Counts how often a press had to wait for an answer to where it shall end. */
  const cutAsked = ref(0);

  /** Makes what is on screen; where that could not be kept, nothing else is made in its place. */
  async function goOn(): Promise<void> {
    const [each, assignment] = [take.value, work.assignment];
    if (!each || !assignment) return;
    isGoingOn.value = true;
    try {
      if (!each.facts) return;
      if (isTooLong.value) return void (cutAsked.value += 1);
      if (series.value) {
        const whole = applyOthers({ facts: each.facts, series: series.value }, recipe.value, others.value);
        editor.change(mendRecipe(recipe.value, whole.facts, whole.series, assignment.limits));
      }
      if (!(await editor.save())) return;
      if (!made.value && result.value?.plan) await work.make(each.id);
      await router.push({ name: 'fit', params: { assignmentId: assignment.id }, query: { take: each.id } });
    } catch (error) {
      notices.tellFault(error);
    } finally {
      isGoingOn.value = false;
    }
  }
  useKeys({
    'start-here': startHere,
    'finish-here': finishHere,
    'divide-here': () => cut.split(player.positionUs.value),
    'frame-back': () => player.step(-1),
    'frame-on': () => player.step(1),
    nearer: () => zoom(2),
    farther: () => zoom(0.5),
    play: player.toggle,
    'play-again': () => (player.isLooping.value = !player.isLooping.value),
    before: () => (isBefore.value = !isBefore.value),
    'side-by-side': () => (color.isSplit.value = !color.isSplit.value),
    undo: editor.undo,
    redo: editor.redo,
  });
  return {
    take,
    editor,
    recipe,
    player,
    attach,
    series,
    cut,
    frame,
    color,
    sound,
    recording,
    view,
    durationUs,
    frameUs,
    made,
    rows,
    proposal,
    isBefore,
    isGoingOn,
    isTakingStill,
    cutAsked,
    /** How far measuring has come; null once it is done. */
    measuring: computed(() =>
      take.value && !take.value.facts ? (work.findJob(take.value.id, 'inspect') ?? WAITING) : null,
    ),
    isTimed: computed(() => facts.value !== null && facts.value.durationUs !== null),
    hasPicture: computed(() => Boolean(facts.value?.video)),
    otherCount: computed(() => listOthers().length),
    guests,
    shownGuest: computed(() => recipe.value.sources[player.shownSource.value]?.takeId ?? null),
    partNames: computed(() =>
      cut.parts.value.map(({ source }) => {
        const id = source === 0 ? null : recipe.value.sources[source]?.takeId;
        return id ? cleanDisplayName(nameOf(id), 24) : null;
      }),
    ),
    joinable: computed(() =>
      joinableTakes.value.map(({ takeId }) => ({ id: takeId, name: cleanDisplayName(nameOf(takeId), 28) })),
    ),
    join: (id: string) => {
      const other = work.takes.find((each) => each.id === id);
      cut.add(id, other?.recipe ? readKeptRange(other.recipe.recipe) : null);
    },
    pick: (id: string) => (pickedId.value = id),
    isOwnPart,
    startHere,
    finishHere,
    resetSound: () => sound.change(createPlainRecipe().sound, false),
    useOnAll,
    takeStill,
    useProposal: () => proposal.value && editor.change(proposal.value.recipe),
    keepAll: () => editor.change(createPlainRecipe()),
    goOn,
  };
}
