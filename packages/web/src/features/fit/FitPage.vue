<script setup lang="ts">
import {
  buildOffers,
  containerTable,
  formatBytes,
  formatDuration,
  formatExactBytes,
  isEveryMustMet,
  isLeftToPerson,
  planSamples,
  predictDurationUs,
  readMaxBytes,
  readRate,
  writeCodec,
  type FitChoice,
  type MadeView,
  type Plan,
  type TakeView,
} from '@apodix/core';
import { computed, ref, watch } from 'vue';
import JobBar from '../../components/JobBar.vue';
import NeedsTake from '../../components/NeedsTake.vue';
import ProofSign from '../../components/ProofSign.vue';
import ClarityChart from './ClarityChart.vue';
import { divideBytes } from './divide-bytes.ts';
import { describeOtherLimits } from './describe-other-limits.ts';
import HardestMoment from './HardestMoment.vue';
import OfferList from './OfferList.vue';
import TakeTable from './TakeTable.vue';
import { useSendSpeed } from '../../composables/useSendSpeed.ts';
import { readSign, type SignStates } from '../../components/read-sign.ts';
import { buildLedger, buildPlanInput, planOf } from '../ledger/build-ledger.ts';
import LedgerColumn from '../ledger/LedgerColumn.vue';
import { useNotices } from '../../stores/notices.ts';
import { useWork } from '../../stores/work.ts';
import { askForName } from '../work/ask-for-name.ts';
import { useTakeWork } from '../work/useTakeWork.ts';

const work = useWork();
const notices = useNotices();
const { megabits, measured } = useSendSpeed();
const pickedId = ref<string | null>(null);
const picked = computed(() => work.readyTakes.find((each) => each.id === pickedId.value) ?? work.chosenTake);
const { take, result, made, rows, caption } = useTakeWork(picked);
const job = computed(() => (take.value ? work.findJob(take.value.id, 'make') : null));
const sampling = computed(() => (take.value ? work.findJob(take.value.id, 'sample') : null));
const failed = computed(
  () =>
    work.assignment?.jobs.find(
      (each) => each.kind === 'make' && each.takeId === take.value?.id && each.state === 'failed',
    ) ?? null,
);
const plan = computed(() => made.value?.plan ?? result.value?.plan ?? null);
const everyMustMet = computed(() => (made.value ? isEveryMustMet(made.value.findings) : false));
const left = computed(() => (made.value?.findings ?? []).filter(isLeftToPerson).map(({ label }) => label));
const proof = computed(() => made.value?.findings.filter((finding) => finding.of === 'proof') ?? []);
const older = computed(
  () => work.assignment?.made.filter((each) => each.takeId === take.value?.id && !each.isCurrent) ?? [],
);
const lines = computed(() => (plan.value ? describePlan(plan.value) : []));
const parts = computed(() => (plan.value ? divideBytes(plan.value, made.value?.sizeBytes ?? null) : []));
const sizeLimit = computed(() => rows.value.find((row) => row.limit.kind === 'file-size')?.limit ?? null);
const limitBytes = computed(() => (sizeLimit.value?.kind === 'file-size' ? sizeLimit.value.maxBytes : null));
const isCourse = computed(() => work.assignment?.kind === 'course');
const isVideo = computed(() => take.value?.kind === 'video' && plan.value?.kind === 'video');
const unmade = computed(() =>
  work.readyTakes.filter(
    (each) =>
      !work.findJob(each.id, 'make') &&
      !work.assignment?.made.some((file) => file.takeId === each.id && file.isCurrent),
  ),
);
const findMade = (takeId: string) =>
  work.assignment?.made.find((file) => file.takeId === takeId && file.isCurrent) ?? null;
const planOfTake = (each: TakeView) =>
  work.assignment && planOf(work.assignment, each, each.recipe?.recipe ?? null, work.seriesOf(each));
/** The sign of a take in the table: what each stage found of it. */
function readSignOf(each: TakeView): SignStates {
  if (!work.assignment) return readSign([]);
  const ledger = buildLedger(work.assignment, each, planOfTake(each), findMade(each.id), work.seriesOf(each));
  const own = findMade(each.id)?.findings ?? [];
  const before = ledger.flatMap((row) => [row.measured, row.planned]).filter((finding) => finding !== null);
  return readSign([...before, ...own]);
}
const table = computed(() =>
  work.readyTakes.length < 2 || !work.assignment
    ? []
    : work.readyTakes.map((each) => ({
        take: each,
        result: planOfTake(each),
        made: findMade(each.id),
        sign: readSignOf(each),
        share: work.findJob(each.id, 'make')?.share ?? null,
      })),
);
const choice = computed(() => take.value?.choice ?? null);
const offers = computed(() => {
  const input =
    work.assignment && isVideo.value
      ? buildPlanInput(
          work.assignment,
          take.value,
          take.value?.recipe?.recipe ?? null,
          work.seriesOf(take.value),
        )
      : null;
  return input ? buildOffers(input) : null;
});
const madePoints = computed(() =>
  (work.assignment?.made ?? []).flatMap((file) =>
    file.takeId === take.value?.id && file.comparison?.picture
      ? [{ sizeBytes: file.sizeBytes, ssim: placeOnCurve(file), isCurrent: file.isCurrent }]
      : [],
  ),
);
const otherLimits = computed(() =>
  work.assignment && take.value?.facts?.video
    ? describeOtherLimits(work.assignment.limits, take.value.facts.video)
    : [],
);
const ownLines = computed(() => [...new Set((offers.value?.curves ?? []).map((curve) => curve.lines))]);
const ownMegabytes = ref<number | null>(null);
const ownChosenLines = ref<number | null>(null);

// What each size would look like is tried out on samples; where they are missing or were taken for other
// limits, they are asked for.
watch(
  [() => take.value?.id, () => work.assignment?.limits, () => work.seriesOf(take.value)],
  async () => {
    const each = take.value;
    const series = work.seriesOf(each);
    if (!each?.facts || !series || !each.recipe || !work.assignment) return;
    const wanted = planSamples(each.facts, series, each.recipe.recipe, work.assignment.limits);
    if (wanted && each.samples?.key !== wanted.key) await work.sampleTake(each.id).catch(() => undefined);
  },
  { immediate: true },
);

/**
 * The chart counts likeness at the size of the reference, the proof at the file's own: the made point is
 * moved by what the file came out better or worse than promised.
 */
function placeOnCurve(file: MadeView): number {
  const measured = file.comparison?.picture?.ssimMean ?? 0;
  if (
    file.plan.kind !== 'video' ||
    file.plan.prediction.ssim === null ||
    file.plan.prediction.ownSsim === null
  )
    return measured;
  return Math.min(1, file.plan.prediction.ssim + measured - file.plan.prediction.ownSsim);
}
function writeSize(each: Exclude<Plan, { kind: 'sound' }>): string {
  const { widthPx, heightPx } = each.kind === 'video' ? each.cut : each;
  return `${widthPx}×${heightPx}`;
}
function describePlan(each: Plan): [string, string][] {
  const lengthUs = predictDurationUs(each);
  const sound = each.kind === 'photo' ? null : each.sound;
  return [
    [
      'Format',
      each.kind === 'video'
        ? `${containerTable[each.container].label}, ${writeCodec(each.rate.videoCodec)}${sound ? ` + ${writeCodec(sound.codec)}` : ''}`
        : containerTable[each.container].label,
    ],
    ...(each.kind === 'sound' ? [] : [['Picture', writeSize(each)] as [string, string]]),
    ...(each.kind === 'video'
      ? [['Pictures a second', String(Number(readRate(each.cut.frameRate).toFixed(3)))] as [string, string]]
      : []),
    ...(lengthUs === null ? [] : [['Length', formatDuration(lengthUs, 2)] as [string, string]]),
    ...(sound
      ? [
          [
            'Sound',
            `${sound.bitrateBps ? `${Math.round(sound.bitrateBps / 1000)} kbit/s, ` : ''}${sound.channels === 1 ? 'mono' : 'stereo'}${sound.gainDb ? `, ${sound.gainDb > 0 ? '+' : '−'}${Math.abs(sound.gainDb).toFixed(1)} dB` : ''}`,
          ] as [string, string],
        ]
      : []),
    ['Name', each.fileName],
  ];
}
async function choose(next: FitChoice | null): Promise<void> {
  const each = take.value;
  if (each) await work.saveChoice(each.id, next).catch(notices.tellFault);
}
async function chooseOwn(): Promise<void> {
  const megabytes = Number(ownMegabytes.value);
  const maxBytes = Number.isFinite(megabytes) && megabytes > 0 ? Math.round(megabytes * 1e6) : null;
  await choose(
    maxBytes === null && ownChosenLines.value === null
      ? null
      : {
          lines: ownChosenLines.value,
          rateDivisor: 1,
          maxBytes: maxBytes === null ? null : Math.max(50_000, maxBytes),
          soundBps: null,
        },
  );
}
async function make(): Promise<void> {
  if (take.value) await work.make(take.value.id).catch(notices.tellFault);
}
async function fitForMe(): Promise<void> {
  if (take.value) await work.fitForMe(take.value.id).catch(notices.tellFault);
}
async function makeAll(): Promise<void> {
  for (const each of unmade.value) await work.make(each.id).catch(notices.tellFault);
}
async function renameMade(file: MadeView): Promise<void> {
  const stem = askForName(file.fileName);
  if (stem) await work.renameMade(file.id, stem).catch(notices.tellFault);
}
async function remove(id: string): Promise<void> {
  await work.removeMade(id).catch(notices.tellFault);
}
</script>

<template>
  <LedgerColumn
    :rows="rows"
    :is-proven="made !== null"
    :caption="caption"
    :action-label="take && !made && !job && result?.plan ? 'Fit it for me' : null"
    @action="fitForMe"
  />
  <NeedsTake v-if="!take" heading="Fit needs a take" :assignment-id="work.assignment?.id" />
  <div v-else class="fit">
    <TakeTable
      v-if="table.length"
      :rows="table"
      :picked-id="take.id"
      :unmade="unmade.length"
      @pick="(id) => (pickedId = id)"
      @make-all="makeAll"
    />
    <div class="grid">
      <section v-if="isVideo" class="sheet chart">
        <div class="line">
          <h2>What each size would look like</h2>
          <span v-if="offers?.curves.length" class="note"
            >tried on {{ take.samples?.windows.length }} short
            {{ take.samples?.windows.length === 1 ? 'sample' : 'samples' }} of your own video</span
          >
        </div>
        <ClarityChart
          v-if="offers?.curves.length && result?.plan?.kind === 'video'"
          :curves="offers.curves"
          :plan="result.plan"
          :limit-bytes="limitBytes"
          :made="madePoints"
          :is-disabled="job !== null"
          @choose="choose"
        />
        <div v-else class="waiting">
          <JobBar
            v-if="sampling"
            :stage="sampling.state === 'waiting' ? 'Waiting until the computer is free' : sampling.stage"
            :share="sampling.share"
            :seconds-left="sampling.secondsLeft"
          />
          <p>
            {{
              sampling
                ? 'Short samples of your video are being tried in several sizes. You need not wait: the file can be made now.'
                : 'No samples of this video have been tried yet.'
            }}
          </p>
        </div>
        <p v-if="otherLimits.length" class="note">Other limits count too: {{ otherLimits.join('; ') }}.</p>
        <details v-if="offers?.curves.length && !made && !job" class="own">
          <summary>Choose lines and size yourself</summary>
          <div class="fields">
            <v-select
              v-model="ownChosenLines"
              :items="[
                { title: 'as is best', value: null },
                ...ownLines.map((each) => ({ title: `${each} lines`, value: each })),
              ]"
              label="Lines"
            />
            <v-text-field v-model="ownMegabytes" type="number" min="0.05" step="0.1" label="At most, MB" />
            <v-btn class="plain" height="40" @click="chooseOwn">Plan it</v-btn>
          </div>
        </details>
      </section>
      <section v-else class="sheet pictures">
        <h2>Recording and result</h2>
        <div class="pair">
          <figure>
            <img v-if="take.posterUrl" :src="take.posterUrl" alt="The recording" /><span v-else class="blank"
              >sound only</span
            >
            <figcaption>recording · {{ formatBytes(take.sizeBytes) }}</figcaption>
          </figure>
          <figure>
            <audio v-if="made?.plan.kind === 'sound'" :src="made.fileUrl" controls />
            <img v-else-if="made" :src="made.posterUrl ?? made.fileUrl" alt="The made file" />
            <div v-else class="blank">
              <ProofSign measured="open" planned="open" proven="open" :size="34" /><span>not made yet</span>
            </div>
            <figcaption>
              {{ made ? `finished file · ${formatBytes(made.sizeBytes)}` : 'finished file' }}
            </figcaption>
          </figure>
        </div>
        <dl v-if="plan" class="plan">
          <template v-for="[name, value] in lines" :key="name"
            ><dt>{{ name }}</dt>
            <dd class="figures">{{ value }}</dd></template
          >
        </dl>
      </section>
      <div class="side">
        <section v-if="result && result.refusals.length" class="sheet refusal" role="alert">
          <h2>Cannot be met with this take</h2>
          <p v-for="refusal in result.refusals" :key="refusal.message">{{ refusal.message }}</p>
        </section>
        <section v-if="made" class="sheet offer" :class="{ short: !everyMustMet }">
          <div class="line">
            <h2>{{ everyMustMet ? (left.length > 0 ? 'Made' : 'Made and proven') : 'Made, but short' }}</h2>
            <strong class="figures" :title="formatExactBytes(made.sizeBytes)">{{
              formatBytes(made.sizeBytes)
            }}</strong>
          </div>
          <p>
            {{
              everyMustMet
                ? left.length > 0
                  ? `Nothing falls short on this very file. Only you can tell: ${left.join(', ')}.`
                  : 'Every must was measured again on this very file.'
                : 'A limit falls short. The ledger tells which, and what helps.'
            }}
          </p>
          <ul v-if="proof.length" class="proof">
            <li v-for="finding in proof" :key="finding.label" :class="finding.state" :title="finding.method">
              <span>{{ finding.label }}</span><span class="figures">{{ finding.figure }}</span
              ><small v-if="finding.state === 'short'">{{ finding.sentence }} {{ finding.fix?.text }}</small>
            </li>
          </ul>
          <p class="note figures hash" :title="made.sha256">SHA-256 {{ made.sha256.slice(0, 20) }}…</p>
        </section>
        <OfferList
          v-else-if="offers?.offers.length"
          :offers="offers.offers"
          :choice="choice"
          :samples="take.samples"
          :megabits="megabits"
          :is-disabled="job !== null"
          @choose="choose"
        />
        <section v-else-if="plan" class="sheet offer">
          <div class="line">
            <h2>Best that fits</h2>
            <strong class="figures">{{ formatBytes(plan.prediction.bytes) }}</strong>
          </div>
          <p>
            {{
              readMaxBytes(plan) === null
                ? 'No byte limit is set: made as clear as is of use.'
                : `Aimed just below ${formatBytes(readMaxBytes(plan) ?? 0)}.`
            }}
          </p>
        </section>
        <div v-if="job" class="sheet offer">
          <JobBar
            :stage="job.stage"
            :share="job.share"
            :seconds-left="job.secondsLeft"
            can-cancel
            @cancel="work.cancel(job.id)"
          />
          <p class="note">You may leave this page; it goes on.</p>
        </div>
        <section v-if="failed && !job && !made" class="sheet refusal" role="alert">
          <h2>It did not work</h2>
          <p>{{ failed.fault?.message }} {{ failed.fault?.detail }}</p>
          <p>{{ failed.fault?.next }}</p>
        </section>
        <v-btn v-if="!made && !job && plan" class="go" block height="46" @click="make">Make the file</v-btn>
        <template v-if="made">
          <v-btn
            class="go"
            block
            height="46"
            :to="{ name: 'hand-in', params: { assignmentId: work.assignment?.id } }"
            >{{ isCourse ? 'Go to hand in' : 'Save the file' }}</v-btn
          >
          <div class="pair">
            <v-btn class="quiet" :href="`${made.fileUrl}?save`">Save a copy</v-btn
            ><v-btn class="quiet" @click="remove(made.id)">Throw away</v-btn>
          </div>
          <v-btn class="quiet" block @click="renameMade(made)">Rename</v-btn>
        </template>
        <label v-if="isVideo && !made" class="speed note"
          >Your internet sends
          <input
            v-model.number="megabits"
            type="number"
            min="0.1"
            step="0.5"
            aria-label="Megabits a second that your internet sends"
          />
          Mbit/s<button v-if="measured && measured !== megabits" type="button" @click="megabits = measured">
            use the measured {{ measured }}
          </button></label
        >
        <p class="note centre">the recording itself is never changed</p>
        <section v-if="older.length" class="sheet bytes">
          <h2>Made before the last change</h2>
          <div v-for="file in older" :key="file.id" class="line">
            <span class="name">{{ file.fileName }} · {{ formatBytes(file.sizeBytes) }}</span
            ><button type="button" @click="remove(file.id)">Throw away</button>
          </div>
        </section>
      </div>
    </div>
    <section v-if="parts.length && isVideo" class="sheet lower">
      <HardestMoment v-if="made && made.moments.length" :made="made" />
      <div v-else-if="made" class="watch">
        <h2>The finished file</h2>
        <video
          :key="made.id"
          :src="made.fileUrl"
          :poster="made.posterUrl ?? undefined"
          controls
          preload="metadata"
          playsinline
        />
      </div>
      <div v-else class="watch">
        <h2>Hardest moment</h2>
        <p class="note">
          Once the file is made, the five seconds that suffered most are shown here beside the recording.
        </p>
        <dl class="plan">
          <template v-for="[name, value] in lines" :key="name"
            ><dt>{{ name }}</dt>
            <dd class="figures">{{ value }}</dd></template
          >
        </dl>
      </div>
      <div class="bytes plain">
        <h2>Where the megabytes go</h2>
        <div v-for="part in parts" :key="part.label">
          <div class="line">
            <span>{{ part.label }}</span><span class="figures" :title="formatExactBytes(part.bytes)">{{
              formatBytes(part.bytes)
            }}</span>
          </div>
          <div class="track">
            <span
              :style="{
                width: `${Math.max(1, (100 * part.bytes) / Math.max(1, ...parts.map((each) => each.bytes)))}%`,
              }"
            />
          </div>
        </div>
        <p
          v-if="sizeLimit?.kind === 'file-size' && sizeLimit.isAmbiguous && limitBytes !== null"
          class="note"
        >
          {{ formatBytes(limitBytes) }} is read as {{ formatExactBytes(limitBytes) }}, the stricter of the two
          meanings.
        </p>
        <details v-if="made && made.moments.length">
          <summary>Play the finished file</summary>
          <video
            :src="made.fileUrl"
            :poster="made.posterUrl ?? undefined"
            controls
            preload="metadata"
            playsinline
          />
        </details>
      </div>
    </section>
  </div>
</template>

<style scoped>
.fit {
  flex: 1;
  min-width: 0;
  overflow-y: auto;
  padding: 16px 20px 24px;
  display: grid;
  gap: 14px;
  align-content: start;
}
.grid {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 292px;
  gap: 16px;
  align-items: start;
}
.chart {
  padding: 12px 14px;
  display: grid;
  gap: 6px;
  grid-template-rows: auto minmax(350px, 1fr);
  grid-auto-rows: auto;
  min-height: 392px;
}
.chart h2,
.lower h2,
.pictures h2 {
  font-size: 16px;
}
.waiting {
  display: grid;
  gap: 12px;
  align-content: center;
  min-height: 320px;
  padding: 0 8%;
  text-align: center;
  color: var(--soft-ink);
}
.own summary,
.bytes summary {
  cursor: pointer;
  min-height: 40px;
  align-content: center;
  text-decoration: underline;
  font-size: 14px;
}
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr auto;
  gap: 10px;
  align-items: center;
  padding-top: 6px;
}
.pictures {
  padding: 14px;
  display: grid;
  gap: 12px;
}
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
}
.pair .v-btn {
  min-width: 0;
}
figure {
  margin: 0;
  background: var(--surround);
  border-radius: 4px;
  overflow: hidden;
  position: relative;
  display: grid;
  align-content: center;
  min-height: 220px;
}
figure img {
  width: 100%;
  max-height: 46vh;
  object-fit: contain;
  display: block;
}
figure audio {
  width: 100%;
  padding: 0 8px;
}
figcaption {
  position: absolute;
  top: 8px;
  left: 8px;
  background: rgb(0 0 0 / 66%);
  color: #fff;
  font-size: 13px;
  padding: 2px 8px;
  border-radius: 3px;
}
.blank {
  display: grid;
  gap: 8px;
  justify-items: center;
  background: var(--sheet);
  color: var(--soft-ink);
  margin: 24px;
  padding: 24px;
  border-radius: 6px;
}
.plan {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 4px 18px;
  margin: 0;
  align-content: start;
}
.plan dt {
  color: var(--soft-ink);
}
.plan dd {
  margin: 0;
  overflow-wrap: anywhere;
}
.side {
  display: grid;
  gap: 10px;
}
.offer,
.refusal,
.bytes {
  padding: 12px 14px;
  display: grid;
  gap: 6px;
}
.offer {
  border: 2px solid var(--met);
}
.offer.short {
  border-color: var(--madder);
}
.refusal {
  background: var(--madder-soft);
  border-color: var(--madder);
}
.hash {
  overflow-wrap: anywhere;
}
.line {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  align-items: baseline;
  flex-wrap: wrap;
}
.line button {
  min-height: 40px;
  text-decoration: underline;
}
.name {
  overflow-wrap: anywhere;
}
.side h2 {
  font-size: 15.5px;
}
.centre {
  text-align: center;
}
.proof {
  list-style: none;
  margin: 0;
  padding: 0;
  font-size: 13.5px;
}
.proof li {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  flex-wrap: wrap;
  border-top: 1px solid var(--line);
  padding: 3px 0;
}
.proof li.short {
  color: var(--madder);
  font-weight: 600;
}
.proof small {
  flex-basis: 100%;
  font-size: 12.5px;
}
.speed {
  display: flex;
  gap: 6px;
  align-items: center;
  flex-wrap: wrap;
  justify-content: center;
}
.speed input {
  width: 64px;
  min-height: 40px;
  border: 1px solid var(--line);
  border-radius: 4px;
  padding: 0 6px;
  background: var(--sheet);
  color: var(--ink);
  font-family: var(--mono);
  text-align: right;
}
.speed button {
  text-decoration: underline;
  min-height: 40px;
  color: var(--ink);
}
.lower {
  padding: 14px;
  display: grid;
  grid-template-columns: minmax(0, 1fr) 280px;
  gap: 20px;
  align-items: start;
}
.lower video {
  width: 100%;
  max-height: 40vh;
  background: var(--surround);
  border-radius: 4px;
  display: block;
}
.watch {
  display: grid;
  gap: 10px;
}
.bytes.plain {
  padding: 0;
  gap: 10px;
  align-content: start;
}
.track {
  height: 8px;
  background: var(--track);
  border-radius: 2px;
  overflow: hidden;
}
.track span {
  display: block;
  height: 100%;
  background: var(--met);
}
@media (max-width: 1000px) {
  .grid,
  .lower {
    grid-template-columns: minmax(0, 1fr);
  }
  .fit {
    padding: 12px 12px 140px;
  }
  .pictures .pair {
    grid-template-columns: 1fr;
  }
  .fields {
    grid-template-columns: 1fr;
  }
  .chart {
    min-height: 340px;
  }
}
</style>
