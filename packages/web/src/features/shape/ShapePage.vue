<script setup lang="ts">
import {
  addQuarterTurn,
  cleanDisplayName,
  createPlainRecipe,
  EMPTY_SERIES,
  findFrameAt,
  findTimeOfFrame,
  formatDuration,
  isStillKind,
  keepRange,
  mendRecipe,
  resolveKeep,
  snapRangeToFrames,
  type FrameTimes,
  type Recipe,
  type TimeRange,
} from '@apodix/core';
import { useElementSize } from '@vueuse/core';
import { computed, onScopeDispose, ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import { useKeys } from '../../composables/useKeys.ts';
import { buildLedger, buildParcelRows, planOf } from '../ledger/build-ledger.ts';
import NeedsTake from '../../components/NeedsTake.vue';
import LedgerColumn from '../ledger/LedgerColumn.vue';
import { placePicture } from './place-picture.ts';
import TrimStrip from './TrimStrip.vue';
import { useRecipeEditor } from './useRecipeEditor.ts';
import { useNotices } from '../../stores/notices.ts';
import { useWork } from '../../stores/work.ts';

const work = useWork();
const notices = useNotices();
const router = useRouter();
const pickedId = ref<string | null>(null);
const take = computed(() => work.readyTakes.find((each) => each.id === pickedId.value) ?? work.chosenTake);
const editor = useRecipeEditor(take);
const { recipe } = editor;
const isBefore = ref(false);
const positionUs = ref(0);
const isPlaying = ref(false);
const player = ref<HTMLVideoElement | HTMLAudioElement | null>(null);
const stage = ref<HTMLElement | null>(null);
const { width: stageWidth, height: stageHeight } = useElementSize(stage);

const isTimed = computed(
  () => take.value?.facts?.durationUs !== null && take.value?.facts !== null && take.value !== null,
);
const series = computed(() => work.seriesOf(take.value));
const frames = computed<FrameTimes | null>(() =>
  take.value?.facts?.video ? (series.value?.frames ?? null) : null,
);
const durationUs = computed(() => frames.value?.endUs ?? take.value?.facts?.durationUs ?? 0);
const frameUs = computed(() => {
  const rate = take.value?.facts?.video?.frameRate;
  return rate ? Math.round((1e6 * rate.denominator) / rate.numerator) : 10_000;
});
const range = computed<TimeRange>(() =>
  take.value?.facts
    ? resolveKeep(take.value.facts, recipe.value, series.value ?? EMPTY_SERIES)
    : { startUs: 0, finishUs: 1 },
);
const result = computed(() =>
  work.assignment ? planOf(work.assignment, take.value, recipe.value, series.value) : null,
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
const caption = computed(() => `${rows.value.filter((row) => row.limit.severity === 'must').length} must`);
const frameIndex = computed(() => (frames.value ? findFrameAt(frames.value, positionUs.value) : null));
const picture = computed(() => {
  const size = take.value?.facts?.video ?? take.value?.facts?.photo;
  if (!size) return null;
  const box = {
    widthPx: Math.max(80, stageWidth.value - 32),
    heightPx: Math.max(80, stageHeight.value - 32),
  };
  return isBefore.value
    ? placePicture(size, box, 0, false)
    : placePicture(size, box, recipe.value.picture.turnDegrees, recipe.value.picture.isMirrored);
});
const style = computed(() =>
  picture.value
    ? {
        width: `${picture.value.widthPx}px`,
        height: `${picture.value.heightPx}px`,
        transform: picture.value.transform,
      }
    : {},
);

function seek(instantUs: number): void {
  if (!frames.value) {
    positionUs.value = Math.max(0, Math.min(instantUs, durationUs.value));
  } else {
    positionUs.value = findTimeOfFrame(
      frames.value,
      Math.min(findFrameAt(frames.value, instantUs), frames.value.timesUs.length - 1),
    );
  }
  if (player.value) player.value.currentTime = (positionUs.value + Math.min(frameUs.value / 2, 2000)) / 1e6;
}
function step(count: number): void {
  pause();
  if (!frames.value) return seek(positionUs.value + count * frameUs.value);
  const index = Math.min(
    frames.value.timesUs.length - 1,
    Math.max(0, findFrameAt(frames.value, positionUs.value) + count),
  );
  seek(findTimeOfFrame(frames.value, index));
}
function setRange(next: TimeRange, isDragging: boolean): void {
  const snapped = frames.value ? snapRangeToFrames(frames.value, next) : next;
  const isWhole = snapped.startUs <= (frames.value?.timesUs[0] ?? 0) && snapped.finishUs >= durationUs.value;
  editor.change(keepRange(recipe.value, isWhole ? null : snapped), isDragging);
}
function startHere(): void {
  if (positionUs.value < range.value.finishUs)
    setRange({ startUs: positionUs.value, finishUs: range.value.finishUs }, false);
}
/** The frame on screen is the last one that is kept. */
function finishHere(): void {
  const finishUs = frames.value
    ? findTimeOfFrame(frames.value, findFrameAt(frames.value, positionUs.value) + 1)
    : positionUs.value;
  if (finishUs > range.value.startUs) setRange({ startUs: range.value.startUs, finishUs }, false);
}
let ticking = 0;
function tick(): void {
  const element = player.value;
  if (element && isPlaying.value) {
    const instant = element.currentTime * 1e6;
    if (instant >= range.value.finishUs) {
      pause();
      seek(range.value.startUs);
      return;
    }
    positionUs.value = frames.value
      ? findTimeOfFrame(frames.value, findFrameAt(frames.value, instant))
      : instant;
    ticking = requestAnimationFrame(tick);
  }
}
function pause(): void {
  player.value?.pause();
  isPlaying.value = false;
  cancelAnimationFrame(ticking);
}
function togglePlay(): void {
  const element = player.value;
  if (!element) return;
  if (isPlaying.value) return pause();
  if (positionUs.value < range.value.startUs || positionUs.value >= range.value.finishUs - frameUs.value)
    seek(range.value.startUs);
  isPlaying.value = true;
  void element
    .play()
    .then(() => (ticking = requestAnimationFrame(tick)))
    .catch(() => (isPlaying.value = false));
}
onScopeDispose(() => cancelAnimationFrame(ticking));
watch(
  take,
  (next, last) => {
    if (next?.id !== last?.id) {
      pause();
      positionUs.value = next?.recipe?.recipe.spans[0]?.startUs ?? 0;
    }
  },
  { immediate: true },
);

const changePicture = (changes: Partial<Recipe['picture']>) =>
  editor.change({ ...recipe.value, picture: { ...recipe.value.picture, ...changes } });
const turn = (quarters: 1 | -1) =>
  changePicture({ turnDegrees: addQuarterTurn(recipe.value.picture.turnDegrees, quarters) });
const mirror = () => changePicture({ isMirrored: !recipe.value.picture.isMirrored });
const proposal = computed(() => take.value?.proposal ?? null);
function useProposal(): void {
  if (proposal.value) editor.change(proposal.value.recipe);
}
function keepAll(): void {
  editor.change({ ...createPlainRecipe(), sound: recipe.value.sound });
}
async function goOn(): Promise<void> {
  if (take.value?.facts && series.value && work.assignment)
    editor.change(mendRecipe(recipe.value, take.value.facts, series.value, work.assignment.limits));
  await editor.save();
  if (take.value && !made.value && result.value?.plan)
    await work.make(take.value.id).catch(notices.tellFault);
  await router.push({ name: 'fit', params: { assignmentId: work.assignment?.id } });
}
useKeys({
  s: startHere,
  f: finishHere,
  ',': () => step(-1),
  '.': () => step(1),
  ' ': togglePlay,
  b: () => (isBefore.value = !isBefore.value),
  'Ctrl+z': () => editor.undo(),
  'Ctrl+Shift+z': () => editor.redo(),
  'Ctrl+y': () => editor.redo(),
});
</script>

<template>
  <LedgerColumn
    :rows="rows"
    :is-proven="made !== null"
    :caption="caption"
    :action-label="take ? (made ? 'See the made file' : 'Fit it for me') : null"
    @action="goOn"
  />
  <NeedsTake v-if="!take" heading="Shape needs a take" :assignment-id="work.assignment?.id" />
  <div v-else class="shape">
    <div class="top">
      <div ref="stage" class="surround" data-testid="stage">
        <video
          v-if="take.kind === 'video' && take.proxyUrl"
          ref="player"
          :key="take.id"
          :src="take.proxyUrl"
          :style="style"
          preload="auto"
          playsinline
          @loadeddata="seek(positionUs)"
          @click="togglePlay"
        />
        <img
          v-else-if="isStillKind(take.kind) && take.proxyUrl"
          :src="take.proxyUrl"
          :style="style"
          :alt="cleanDisplayName(take.name)"
        />
        <template v-else-if="take.proxyUrl"
          ><audio ref="player" :key="`a${take.id}`" :src="take.proxyUrl" preload="auto" />
          <p class="sound-only">Sound only</p></template
        >
        <span class="tag">{{ isBefore ? 'as recorded' : 'as it will be handed in' }}</span>
        <div v-if="isTimed" class="transport">
          <span class="figures">{{ formatDuration(positionUs, 2) }}</span>
          <span class="buttons"
            ><button type="button" @click="step(-1)">‹ frame</button
            ><button type="button" class="play" @click="togglePlay">
              {{ isPlaying ? 'Pause' : '▶ Play kept part' }}</button
            ><button type="button" @click="step(1)">frame ›</button></span
          >
          <span class="figures" data-testid="frame">{{
            frameIndex === null ? '' : `frame ${frameIndex}`
          }}</span>
        </div>
      </div>
      <aside class="tools" aria-label="Tools">
        <section v-if="isTimed">
          <h2>Cut</h2>
          <div class="pair">
            <v-btn class="quiet" @click="startHere">Start here</v-btn
            ><v-btn class="quiet" @click="finishHere">Finish here</v-btn>
          </div>
          <p class="note">Stop at the right frame, then press. What is hatched on the strip is left out.</p>
          <v-btn
            v-if="recipe.spans.length"
            class="quiet"
            @click="setRange({ startUs: 0, finishUs: durationUs }, false)"
            >Keep all of it</v-btn
          >
        </section>
        <section v-if="picture">
          <h2>Frame</h2>
          <div class="pair">
            <v-btn class="quiet" @click="turn(-1)">Turn left</v-btn
            ><v-btn class="quiet" @click="turn(1)">Turn right</v-btn>
          </div>
          <v-btn class="quiet" :aria-pressed="recipe.picture.isMirrored" @click="mirror">{{
            recipe.picture.isMirrored ? 'Mirrored: undo' : 'Mirror'
          }}</v-btn>
        </section>
        <section v-if="recipe.sound.gainDb !== 0">
          <h2>Sound</h2>
          <p>
            {{ recipe.sound.gainDb > 0 ? 'Raised' : 'Lowered' }} by
            <span class="figures">{{ Math.abs(recipe.sound.gainDb).toFixed(1) }} dB</span> to meet the wanted
            level.
          </p>
        </section>
        <section>
          <div class="pair">
            <v-btn class="quiet" :disabled="!editor.canUndo.value" @click="editor.undo()">Undo</v-btn
            ><v-btn class="quiet" :disabled="!editor.canRedo.value" @click="editor.redo()">Redo</v-btn>
          </div>
          <div class="pair">
            <v-btn class="quiet" :disabled="!proposal" @click="useProposal">Suggested</v-btn
            ><v-btn class="quiet" @click="keepAll">As recorded</v-btn>
          </div>
          <v-btn class="quiet" :aria-pressed="isBefore" @click="isBefore = !isBefore">{{
            isBefore ? 'Show the result' : 'Show the recording'
          }}</v-btn>
          <p class="note" role="status">
            {{ editor.isSaved.value ? 'Kept. The recording itself is never changed.' : 'Keeping…' }}
          </p>
        </section>
      </aside>
    </div>
    <div class="foot">
      <template v-if="isTimed">
        <div class="line">
          <strong
            >Keep
            <span class="figures"
              >{{ formatDuration(range.startUs, 2) }} → {{ formatDuration(range.finishUs, 2) }}</span
            >
            <span class="note figures length">{{
              formatDuration(range.finishUs - range.startUs, 2)
            }}</span></strong
          ><span v-if="proposal?.recipe.spans[0]" class="note suggestion"
            >Suggested start {{ formatDuration(proposal.recipe.spans[0].startUs, 1) }}:
            {{ proposal.startReason }} | suggested finish
            {{ formatDuration(proposal.recipe.spans[0].finishUs, 1) }}: {{ proposal.finishReason }}</span
          >
        </div>
        <TrimStrip
          :peaks="series?.peaks?.peaks ?? []"
          :take="take"
          :range="range"
          :duration-us="durationUs"
          :position-us="positionUs"
          :frame-us="frameUs"
          @seek="
            (instant) => {
              pause();
              seek(instant);
            }
          "
          @range="setRange"
        />
        <p class="note keys">
          S start here · F finish here · , . step a frame · space plays · B before or after · ? all keys
        </p>
      </template>
      <div v-if="work.readyTakes.length > 1" class="others" role="group" aria-label="Takes">
        <button
          v-for="each in work.readyTakes"
          :key="each.id"
          type="button"
          :class="{ on: each.id === take.id }"
          :aria-pressed="each.id === take.id"
          @click="pickedId = each.id"
        >
          <img v-if="each.posterUrl" :src="each.posterUrl" alt="" /><span>{{
            cleanDisplayName(each.name, 26)
          }}</span>
        </button>
      </div>
    </div>
  </div>
</template>

<style scoped>
.length {
  margin-inline-start: 12px;
}
.shape {
  flex: 1;
  min-width: 0;
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.top {
  flex: 1;
  display: flex;
  min-height: 0;
}
.surround {
  flex: 1;
  min-width: 0;
  background: var(--surround);
  display: grid;
  place-content: center;
  position: relative;
  overflow: hidden;
  padding-bottom: 44px;
  min-height: 240px;
}
.surround video,
.surround img {
  object-fit: fill;
  max-width: none;
  transform-origin: center;
}
.tag {
  position: absolute;
  top: 14px;
  left: 14px;
  background: rgb(0 0 0 / 62%);
  color: #fff;
  padding: 3px 9px;
  border-radius: 4px;
  font-size: 13px;
}
.sound-only {
  color: #fff;
  font: 700 20px var(--display);
}
.transport {
  position: absolute;
  inset: auto 0 0;
  display: flex;
  justify-content: space-between;
  align-items: center;
  padding: 4px 18px;
  color: #fff;
  background: rgb(0 0 0 / 42%);
}
.buttons {
  display: flex;
  gap: 4px;
}
.buttons button {
  min-height: 40px;
  padding: 0 10px;
  font-weight: 700;
}
.tools {
  width: 250px;
  flex: none;
  background: var(--sheet);
  border-left: 1px solid var(--line);
  padding: 16px;
  overflow-y: auto;
  display: grid;
  gap: 18px;
  align-content: start;
}
.tools section {
  display: grid;
  gap: 8px;
}
.tools h2 {
  font-size: 15px;
}
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
.pair .v-btn {
  min-width: 0;
  padding: 0 6px;
}
.foot {
  background: var(--sheet);
  border-top: 1px solid var(--line);
  padding: 10px 16px 12px;
  display: grid;
  gap: 8px;
}
.line {
  display: flex;
  justify-content: space-between;
  gap: 14px;
  align-items: baseline;
  flex-wrap: wrap;
}
.keys {
  text-align: right;
}
.others {
  display: flex;
  gap: 10px;
  overflow-x: auto;
}
.others button {
  display: grid;
  gap: 2px;
  justify-items: start;
  border: 2px solid var(--line);
  border-radius: 6px;
  padding: 4px;
  flex: none;
  font-size: 13px;
  max-width: 150px;
  text-align: left;
}
.others button.on {
  border-color: var(--met);
}
.others img {
  width: 138px;
  height: 72px;
  object-fit: cover;
  border-radius: 3px;
}
@media (max-width: 1000px) {
  .top {
    display: contents;
  }
  .surround {
    height: 58vw;
    flex: none;
    order: 1;
  }
  .foot {
    order: 2;
    padding-bottom: 16px;
  }
  .tools {
    width: auto;
    border-left: 0;
    border-top: 1px solid var(--line);
    order: 3;
  }
  .transport {
    padding: 4px 10px;
  }
  .transport [data-testid='frame'] {
    display: none;
  }
  .buttons button {
    white-space: nowrap;
    padding: 0 7px;
  }
  .shape {
    padding-bottom: 120px;
  }
  .keys {
    display: none;
  }
}
</style>
