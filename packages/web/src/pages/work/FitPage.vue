<script setup lang="ts">
import { cleanDisplayName, containerTable, formatBytes, formatDuration, formatExactBytes, isEveryMustMet, predictDurationUs, readRate, writeCodec, type MadeView, type Plan } from '@apodix/core';
import { computed, ref } from 'vue';
import JobBar from '../../components/JobBar.vue';
import ProofSign from '../../components/ProofSign.vue';
import LedgerColumn from '../../ledger/LedgerColumn.vue';
import { useNotices } from '../../stores/notices.ts';
import { useWork } from '../../stores/work.ts';
import { askForName } from './ask-for-name.ts';
import { useTakeWork } from './useTakeWork.ts';

const work = useWork();
const notices = useNotices();
const pickedId = ref<string | null>(null);
const picked = computed(() => work.readyTakes.find((each) => each.id === pickedId.value) ?? work.chosenTake);
const { take, result, made, rows, caption } = useTakeWork(picked);
const job = computed(() => (take.value ? work.findJob(take.value.id, 'make') : null));
const failed = computed(() => work.assignment?.jobs.find((each) => each.kind === 'make' && each.takeId === take.value?.id && each.state === 'failed') ?? null);
const plan = computed(() => made.value?.plan ?? result.value?.plan ?? null);
const everyMustMet = computed(() => (made.value ? isEveryMustMet(made.value.findings) : false));
const older = computed(() => work.assignment?.made.filter((each) => each.takeId === take.value?.id && !each.isCurrent) ?? []);
const lines = computed(() => (plan.value ? describePlan(plan.value) : []));
const parts = computed(() => (plan.value ? divideBytes(plan.value, made.value?.sizeBytes ?? null) : []));
const isCourse = computed(() => work.assignment?.kind === 'course');
const unmade = computed(() => work.readyTakes.filter((each) => !work.assignment?.made.some((file) => file.takeId === each.id && file.isCurrent)));

function describePlan(each: Plan): [string, string][] {
  const lengthUs = predictDurationUs(each);
  const sound = each.kind === 'photo' ? null : each.sound;
  return [
    ['Format', each.kind === 'video' ? `${containerTable[each.container].label}, ${writeCodec(each.videoCodec)}${sound ? ` + ${writeCodec(sound.codec)}` : ''}` : containerTable[each.container].label],
    ...(each.kind === 'sound' ? [] : [['Picture', `${each.widthPx}×${each.heightPx}`] as [string, string]]),
    ...(each.kind === 'video' ? [['Pictures a second', String(Number(readRate(each.frameRate).toFixed(3)))] as [string, string]] : []),
    ...(lengthUs === null ? [] : [['Length', formatDuration(lengthUs, 2)] as [string, string]]),
    ...(sound ? [['Sound', `${sound.bitrateBps ? `${Math.round(sound.bitrateBps / 1000)} kbit/s, ` : ''}${sound.channels === 1 ? 'mono' : 'stereo'}${sound.gainDb ? `, ${sound.gainDb > 0 ? '+' : '−'}${Math.abs(sound.gainDb).toFixed(1)} dB` : ''}`] as [string, string]] : []),
    ['Name', each.fileName],
  ];
}
function divideBytes(each: Plan, totalBytes: number | null): { label: string; bytes: number }[] {
  const total = totalBytes ?? each.predictedBytes;
  if (each.kind !== 'video') return [{ label: each.kind === 'photo' ? 'picture' : 'sound', bytes: total }];
  const sound = each.sound?.bitrateBps ? ((predictDurationUs(each) ?? 0) * each.sound.bitrateBps) / 8e6 : 0;
  return [{ label: 'picture', bytes: Math.max(0, total - sound) }, ...(each.sound ? [{ label: 'sound', bytes: sound }] : [])];
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
  <LedgerColumn :rows="rows" :is-proven="made !== null" :caption="caption" :action-label="take && !made && !job && result?.plan ? 'Fit it for me' : null" @action="fitForMe" />
  <div v-if="!take" class="none"><div class="sheet"><h2>Fit needs a take</h2><p>Bring in a recording or a photograph first.</p><v-btn class="go" :to="{ name: 'takes', params: { assignmentId: work.assignment?.id } }">Go to Takes</v-btn></div></div>
  <div v-else class="fit">
    <div v-if="work.readyTakes.length > 1" class="others" role="group" aria-label="Takes">
      <button v-for="each in work.readyTakes" :key="each.id" type="button" :class="{ on: each.id === take.id }" :aria-pressed="each.id === take.id" @click="pickedId = each.id">
        <img v-if="each.posterUrl" :src="each.posterUrl" alt="" /><span>{{ cleanDisplayName(each.name, 24) }}</span>
        <span class="note">{{ work.findJob(each.id, 'make') ? 'being made' : work.assignment?.made.some((file) => file.takeId === each.id && file.isCurrent) ? 'made' : 'not made yet' }}</span>
      </button>
      <v-btn v-if="unmade.length > 1" class="plain" @click="makeAll">Make all {{ unmade.length }}</v-btn>
    </div>
    <div class="grid">
      <section class="sheet pictures">
        <h2>Recording and result</h2>
        <div class="pair">
          <figure><img v-if="take.posterUrl" :src="take.posterUrl" alt="The recording" /><figcaption>recording · {{ formatBytes(take.sizeBytes) }}</figcaption></figure>
          <figure>
            <video v-if="made?.plan.kind === 'video'" :key="made.id" :src="made.fileUrl" :poster="made.posterUrl ?? undefined" controls preload="metadata" playsinline />
            <audio v-else-if="made?.plan.kind === 'sound'" :src="made.fileUrl" controls />
            <img v-else-if="made" :src="made.fileUrl" alt="The made file" />
            <div v-else class="blank"><ProofSign measured="open" planned="open" proven="open" :size="34" /><span>not made yet</span></div>
            <figcaption>{{ made ? `finished file · ${formatBytes(made.sizeBytes)}` : 'finished file' }}</figcaption>
          </figure>
        </div>
        <dl v-if="plan" class="plan"><template v-for="[name, value] in lines" :key="name"><dt>{{ name }}</dt><dd class="figures">{{ value }}</dd></template></dl>
      </section>
      <div class="side">
        <section v-if="result && result.refusals.length" class="sheet refusal" role="alert"><h2>Cannot be met with this take</h2><p v-for="refusal in result.refusals" :key="refusal.message">{{ refusal.message }}</p></section>
        <section v-if="made" class="sheet offer" :class="{ short: !everyMustMet }">
          <div class="line"><h2>{{ everyMustMet ? 'Made and proven' : 'Made, but short' }}</h2><strong class="figures" :title="formatExactBytes(made.sizeBytes)">{{ formatBytes(made.sizeBytes) }}</strong></div>
          <p>{{ everyMustMet ? 'Every must was measured again on this very file.' : 'A limit falls short. The ledger tells which, and what helps.' }}</p>
          <p class="note figures hash" :title="made.sha256">SHA-256 {{ made.sha256.slice(0, 20) }}…</p>
        </section>
        <section v-else-if="plan" class="sheet offer"><div class="line"><h2>Best that fits</h2><strong class="figures">{{ formatBytes(plan.predictedBytes) }}</strong></div><p>{{ plan.maxBytes === null ? 'No byte limit is set: made as clear as is of use.' : `Aimed just below ${formatBytes(plan.maxBytes)}.` }}</p></section>
        <div v-if="job" class="sheet offer"><JobBar :stage="job.stage" :share="job.share" :seconds-left="job.secondsLeft" can-cancel @cancel="work.cancel(job.id)" /><p class="note">You may leave this page; it goes on.</p></div>
        <section v-if="failed && !job && !made" class="sheet refusal" role="alert"><h2>It did not work</h2><p>{{ failed.fault?.message }} {{ failed.fault?.detail }}</p><p>{{ failed.fault?.next }}</p></section>
        <v-btn v-if="!made && !job && plan" class="go" block height="46" @click="make">Make the file</v-btn>
        <template v-if="made">
          <v-btn class="go" block height="46" :to="{ name: 'hand-in', params: { assignmentId: work.assignment?.id } }">{{ isCourse ? 'Go to hand in' : 'Save the file' }}</v-btn>
          <div class="pair"><v-btn class="quiet" :href="`${made.fileUrl}?save`">Save a copy</v-btn><v-btn class="quiet" @click="remove(made.id)">Throw away</v-btn></div>
          <v-btn class="quiet" block @click="renameMade(made)">Rename</v-btn>
        </template>
        <p class="note centre">the recording itself is never changed</p>
        <section v-if="parts.length" class="sheet bytes"><h2>Where the bytes go</h2><div v-for="part in parts" :key="part.label"><div class="line"><span>{{ part.label }}</span><span class="figures">{{ formatBytes(part.bytes) }}</span></div><div class="track"><span :style="{ width: `${Math.max(1, (100 * part.bytes) / Math.max(...parts.map((each) => each.bytes)))}%` }" /></div></div></section>
        <section v-if="older.length" class="sheet bytes"><h2>Made before the last change</h2><div v-for="file in older" :key="file.id" class="line"><span class="name">{{ file.fileName }}</span><button type="button" @click="remove(file.id)">Throw away</button></div></section>
      </div>
    </div>
  </div>
</template>

<style scoped>
.none { flex: 1; display: grid; place-content: center; padding: 20px; }
.none .sheet { padding: 24px; display: grid; gap: 10px; justify-items: start; }
.fit { flex: 1; min-width: 0; overflow-y: auto; padding: 16px 20px 24px; display: grid; gap: 14px; align-content: start; }
.grid { display: grid; grid-template-columns: minmax(0, 1fr) 300px; gap: 18px; align-items: start; }
.pictures { padding: 14px; display: grid; gap: 12px; }
.pair { display: grid; grid-template-columns: 1fr 1fr; gap: 12px; }
.pair .v-btn { min-width: 0; }
figure { margin: 0; background: var(--surround); border-radius: 4px; overflow: hidden; position: relative; display: grid; align-content: center; min-height: 220px; }
figure img, figure video { width: 100%; max-height: 46vh; object-fit: contain; display: block; }
figure audio { width: 100%; padding: 0 8px; }
figcaption { position: absolute; top: 8px; left: 8px; background: rgb(0 0 0 / 62%); color: #fff; font-size: 13px; padding: 2px 8px; border-radius: 3px; }
.blank { display: grid; gap: 8px; justify-items: center; background: var(--sheet); color: var(--soft-ink); margin: 24px; padding: 24px; border-radius: 6px; }
.plan { display: grid; grid-template-columns: auto 1fr; gap: 4px 18px; margin: 0; }
.plan dt { color: var(--soft-ink); }
.plan dd { margin: 0; overflow-wrap: anywhere; }
.side { display: grid; gap: 12px; }
.offer, .refusal, .bytes { padding: 14px; display: grid; gap: 6px; }
.offer { border: 2px solid var(--met); }
.offer.short { border-color: var(--madder); }
.refusal { background: var(--madder-soft); border-color: var(--madder); }
.hash { overflow-wrap: anywhere; }
.line { display: flex; justify-content: space-between; gap: 10px; align-items: baseline; }
.line button { min-height: 32px; text-decoration: underline; }
.name { overflow-wrap: anywhere; }
.side h2 { font-size: 15.5px; }
.centre { text-align: center; }
.track { height: 8px; background: var(--track); border-radius: 2px; overflow: hidden; }
.track span { display: block; height: 100%; background: var(--met); }
.others { display: flex; gap: 10px; overflow-x: auto; align-items: center; padding-bottom: 4px; }
.others > button:not(.v-btn) { display: grid; border: 2px solid var(--line); background: var(--sheet); border-radius: 6px; padding: 4px 6px; flex: none; font-size: 13px; text-align: left; max-width: 160px; }
.others > button.on { border-color: var(--met); }
.others img { width: 138px; height: 64px; object-fit: cover; border-radius: 3px; }
@media (max-width: 1000px) { .grid { grid-template-columns: minmax(0, 1fr); } .fit { padding: 12px 12px 140px; } .pictures .pair { grid-template-columns: 1fr; } }
</style>
