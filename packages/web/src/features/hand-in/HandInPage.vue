<script setup lang="ts">
import {
  cleanDisplayName,
  findStanding,
  formatBytes,
  formatDuration,
  formatExactBytes,
  isEveryMustMet,
  type MadeView,
  type ParcelInput,
  type Slot,
} from '@apodix/core';
import { computed, onScopeDispose, reactive, ref, watch } from 'vue';
import JobBar from '../../components/JobBar.vue';
import ProofSign from '../../components/ProofSign.vue';
import { readSign } from '../../components/read-sign.ts';
import { describePast } from '../../composables/describe-due.ts';
import { useNow } from '../../composables/useNow.ts';
import { useNotices } from '../../stores/notices.ts';
import { useWork } from '../../stores/work.ts';
import LedgerColumn from '../ledger/LedgerColumn.vue';
import { buildLedger, buildParcelRows } from '../ledger/build-ledger.ts';
import { askForName } from '../work/ask-for-name.ts';
import { describeMissing } from './describe-missing.ts';

const work = useWork();
const notices = useNotices();
const now = useNow();
const view = computed(() => work.assignment);
const isCourse = computed(() => view.value?.kind === 'course');
const text = reactive({ note: '', participants: '', isOwnWork: false });
const isPressed = ref(false);
const seen = ref<MadeView | null>(null);
let loadedFor: string | null = null;
let timer: ReturnType<typeof setTimeout> | null = null;

watch(
  view,
  (next) => {
    if (next && loadedFor !== next.id) {
      loadedFor = next.id;
      Object.assign(text, next.parcel.text);
    }
  },
  { immediate: true },
);

const rows = computed(() => {
  if (!view.value) return [];
  const first = items.value[0]?.made ?? null;
  const take = view.value.takes.find((each) => each.id === first?.takeId) ?? work.chosenTake;
  const draft = { ...view.value, parcel: { ...view.value.parcel, text: { ...text } } };
  return [
    ...buildLedger(
      view.value,
      take,
      first ? { plan: first.plan, refusals: [] } : null,
      first,
      work.seriesOf(take),
    ),
    ...buildParcelRows(draft, true, now.value),
  ];
});
const job = computed(() => work.activeJobs.find((each) => each.kind === 'deliver') ?? null);
const items = computed(() =>
  (view.value?.parcel.items ?? []).flatMap((item) => {
    const made = view.value?.made.find((each) => each.id === item.madeId);
    const slot = view.value?.slots.find((each) => each.id === item.slotId);
    return made && slot ? [{ item, made, slot }] : [];
  }),
);
const last = computed(() => findStanding(view.value?.handIns ?? []));
/** A later attempt that did not go through, whatever stands. */
const failed = computed(() => {
  const newest = view.value?.handIns[0];
  return newest?.state === 'not-handed-in' ? newest : null;
});
const isReceived = computed(() => view.value?.state === 'handed-in' || view.value?.state === 'feedback-back');
const feedback = computed(() => view.value?.handIns.find((each) => each.feedback)?.feedback ?? null);
const wants = computed(() => ({
  participants: view.value?.limits.some((limit) => limit.kind === 'participants') ?? false,
  note: view.value?.limits.some((limit) => limit.kind === 'note') ?? false,
}));
const missing = computed(() =>
  (view.value?.missing ?? []).filter(
    (each) =>
      !(each === 'tick the statement of own work' && text.isOwnWork) &&
      !(each === 'write who took part' && text.participants.trim() !== ''),
  ),
);
const attemptsLeft = computed(() =>
  view.value?.attemptsAllowed === null || !view.value
    ? null
    : view.value.attemptsAllowed - view.value.attemptsUsed,
);
const canHandIn = computed(
  () =>
    missing.value.length === 0 &&
    text.isOwnWork &&
    items.value.length > 0 &&
    job.value === null &&
    !isReceived.value &&
    attemptsLeft.value !== 0,
);
const openSlots = computed(() =>
  (view.value?.slots ?? []).filter(
    (slot) => items.value.filter((each) => each.slot.id === slot.id).length < Math.max(1, slot.min),
  ),
);
const happened = computed(() => [...(view.value?.events ?? []).slice(-9)]);

const build = (changes: Partial<ParcelInput> = {}): ParcelInput => ({
  text: { ...text },
  items: view.value?.parcel.items ?? [],
  ...changes,
});
function saveSoon(): void {
  if (timer) clearTimeout(timer);
  timer = setTimeout(() => void save(), 500);
}
async function save(changes: Partial<ParcelInput> = {}): Promise<void> {
  if (timer) clearTimeout(timer);
  timer = null;
  await work.saveParcel(build(changes)).catch(notices.tellFault);
}
onScopeDispose(() => {
  if (timer) void save();
});
const fitting = (slot: Slot) =>
  (view.value?.made ?? []).filter(
    (made) =>
      made.facts.kind === slot.item &&
      made.isCurrent &&
      isEveryMustMet(made.findings) &&
      !items.value.some((each) => each.made.id === made.id),
  );
const putIn = (slot: Slot, made: MadeView) =>
  save({ items: [...(view.value?.parcel.items ?? []), { slotId: slot.id, madeId: made.id }] });
async function rename(made: MadeView): Promise<void> {
  const stem = askForName(made.fileName);
  if (stem) await work.renameMade(made.id, stem).catch(notices.tellFault);
}
const takeOut = (madeId: string) =>
  save({ items: (view.value?.parcel.items ?? []).filter((each) => each.madeId !== madeId) });
async function handIn(): Promise<void> {
  isPressed.value = true;
  try {
    await work.saveParcel(build());
    await work.handIn();
  } catch (error) {
    notices.tellFault(error);
  } finally {
    isPressed.value = false;
  }
}
const describeMade = (made: MadeView) =>
  [
    formatBytes(made.sizeBytes),
    made.facts.durationUs === null ? '' : formatDuration(made.facts.durationUs, 1),
    (made.facts.video ?? made.facts.photo)
      ? `${(made.facts.video ?? made.facts.photo)?.widthPx}×${(made.facts.video ?? made.facts.photo)?.heightPx}`
      : '',
    `made ${describePast(made.createdAt, now.value)}`,
  ]
    .filter(Boolean)
    .join(' · ');
const ofLimits = (file: MadeView) => file.findings.filter((finding) => finding.of === 'limit');
const countLimits = (file: MadeView) => ofLimits(file).length;
const countProven = (file: MadeView) => ofLimits(file).filter((finding) => finding.state === 'met').length;
</script>

<template>
  <LedgerColumn
    v-if="view"
    :rows="rows"
    :is-proven="items.length > 0"
    :caption="items.length > 1 ? 'first file and parcel' : 'file and parcel'"
    :action-label="null"
  />
  <div v-if="view" class="hand-in">
    <div v-if="isCourse" class="band" :class="{ received: isReceived, sending: job }" role="status">
      <template v-if="isReceived"
        ><strong>Handed in.</strong> Received
        {{ last?.receivedAt ? describePast(last.receivedAt, now) : '' }}, attempt {{ last?.attempt }}.
        <router-link v-if="last?.receiptId" :to="{ name: 'receipt', params: { receiptId: last.receiptId } }"
          >See the receipt</router-link
        ></template
      >
      <template v-else-if="job"><strong>On its way.</strong> Not received yet.</template>
      <template v-else><strong>Not handed in yet.</strong> {{ describeMissing(missing) }}</template>
    </div>
    <div class="columns">
      <div class="parcel">
        <section v-if="feedback" class="sheet feedback">
          <div class="line">
            <h2>Feedback</h2>
            <strong v-if="feedback.points !== null" class="figures"
              >{{ feedback.points }} of {{ view.points }}</strong
            >
          </div>
          <p>{{ feedback.text }}</p>
          <p class="note">{{ describePast(feedback.at, now) }}</p>
        </section>
        <section v-if="failed && !job" class="sheet fault" role="alert">
          <h2>
            {{ isReceived ? 'A later hand-in did not go through' : 'The hand-in did not go through' }}
          </h2>
          <p>{{ failed.fault?.message }} {{ failed.fault?.detail }}</p>
          <p>{{ failed.fault?.next }}</p>
        </section>
        <h2>{{ isCourse ? 'Your parcel' : 'Your files' }}</h2>
        <article v-for="{ made, slot } in items" :key="made.id" class="sheet item">
          <img v-if="made.posterUrl" :src="made.posterUrl" alt="" /><span
            v-else
            class="blank"
            aria-hidden="true"
            ><ProofSign v-bind="readSign(made.findings)" :size="28"
          /></span>
          <div class="what">
            <span class="note">{{ slot.label }}</span><strong class="figures file">{{ made.fileName }}</strong
            ><span class="figures note" :title="formatExactBytes(made.sizeBytes)">{{
              describeMade(made)
            }}</span
            ><span class="proof"
              ><ProofSign v-bind="readSign(made.findings)" />
              {{
                isEveryMustMet(made.findings)
                  ? `${countProven(made)} of ${countLimits(made)} limits proven on this very file`
                  : 'a must falls short'
              }}</span
            >
          </div>
          <div class="acts">
            <v-btn class="quiet" @click="seen = made">See it</v-btn
            ><v-btn class="quiet" :href="`${made.fileUrl}?save`">Save a copy</v-btn
            ><v-btn v-if="!isReceived && !job" class="quiet" @click="rename(made)">Rename</v-btn
            ><v-btn v-if="!isReceived && !job" class="quiet" @click="takeOut(made.id)">Take out</v-btn>
          </div>
        </article>
        <article v-for="slot in openSlots" :key="slot.id" class="slot">
          <strong>{{ slot.label }}</strong><span class="note"
            >{{ items.filter((each) => each.slot.id === slot.id).length }} of
            {{ slot.min === slot.max ? slot.min : `${slot.min} to ${slot.max}` }} here</span
          >
          <v-btn v-for="made in fitting(slot)" :key="made.id" class="quiet" @click="putIn(slot, made)"
            >Put in {{ cleanDisplayName(made.fileName, 34) }}</v-btn
          >
          <router-link
            v-if="fitting(slot).length === 0"
            :to="{ name: work.readyTakes.length ? 'fit' : 'takes', params: { assignmentId: view.id } }"
            >{{ work.readyTakes.length ? 'Make a file in Fit' : 'Bring in a take' }}</router-link
          >
        </article>
        <template v-if="isCourse && !isReceived">
          <div class="fields">
            <div>
              <label for="participants">Who took part</label
              ><v-textarea
                id="participants"
                v-model="text.participants"
                :placeholder="wants.participants ? 'Names of everyone who took part' : ''"
                :class="{ wanted: wants.participants && !text.participants.trim() }"
                maxlength="1000"
                @update:model-value="saveSoon"
              />
              <p v-if="wants.participants" class="note wanted-note">wanted by this assignment</p>
            </div>
            <div>
              <label for="note">Note to the teacher</label
              ><v-textarea id="note" v-model="text.note" maxlength="4000" @update:model-value="saveSoon" />
              <p v-if="wants.note" class="note wanted-note">wanted by this assignment</p>
            </div>
          </div>
          <v-checkbox
            v-model="text.isOwnWork"
            label="This is my own work, and everyone shown has agreed to be recorded."
            @update:model-value="saveSoon"
          />
          <JobBar
            v-if="job"
            :stage="job.stage"
            :share="job.share"
            :seconds-left="job.secondsLeft"
            can-cancel
            @cancel="work.cancel(job.id).catch(notices.tellFault)"
          />
          <div class="press">
            <v-btn
              class="go"
              size="large"
              height="48"
              :disabled="!canHandIn"
              :loading="isPressed || job !== null"
              @click="handIn"
              >Hand in</v-btn
            ><span class="note">{{
              attemptsLeft === 0
                ? 'All attempts are used.'
                : missing.length
                  ? describeMissing(missing)
                  : 'Everything is here.'
            }}</span>
          </div>
        </template>
        <p v-if="!isCourse && items.length === 0" class="note">Made files wait here to be saved.</p>
      </div>
      <aside v-if="isCourse" class="side">
        <h2>What has happened</h2>
        <ol class="sheet events">
          <li v-for="(event, index) in happened" :key="index" class="past">
            <span>{{ event.what }}</span><span class="note">{{ describePast(event.at, now) }}</span>
          </li>
          <li v-if="!isReceived && !job"><strong>Hand in</strong><span class="note">still to do</span></li>
          <li v-if="!isReceived"><span>Received by the course site</span></li>
        </ol>
        <div class="sheet who">
          <strong>Only you and your teacher can open this.</strong>
          <p class="note">
            <template v-if="attemptsLeft !== null && view.attemptsAllowed !== null"
              >Attempt {{ Math.min(view.attemptsAllowed, view.attemptsUsed + (isReceived ? 0 : 1)) }} of
              {{ view.attemptsAllowed }}.</template
            >
            {{ view.isLateAllowed ? 'Late work is taken.' : 'Nothing is taken after the due time.' }}
          </p>
        </div>
      </aside>
    </div>
    <v-dialog :model-value="seen !== null" max-width="900" @update:model-value="seen = null">
      <div v-if="seen" class="sheet look">
        <h2>{{ seen.fileName }}</h2>
        <video v-if="seen.facts.kind === 'video'" :src="seen.fileUrl" controls playsinline /><audio
          v-else-if="seen.facts.kind === 'sound'"
          :src="seen.fileUrl"
          controls
        /><img v-else :src="seen.fileUrl" :alt="seen.fileName" /><v-btn class="quiet" @click="seen = null"
          >Close</v-btn
        >
      </div>
    </v-dialog>
  </div>
</template>

<style scoped>
.hand-in {
  flex: 1;
  overflow-y: auto;
  min-width: 0;
}
.band {
  background: var(--saffron-soft);
  border-bottom: 1px solid var(--saffron-line);
  padding: 11px 24px;
}
.band strong {
  font: 700 17px var(--display);
  margin-right: 10px;
}
.band.received {
  background: color-mix(in srgb, var(--met) 12%, var(--sheet));
  border-color: var(--met);
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 290px;
  gap: 20px;
  padding: 18px 22px 40px;
  max-width: 1320px;
}
.parcel {
  display: grid;
  gap: 12px;
  align-content: start;
}
.item {
  display: flex;
  gap: 16px;
  padding: 12px;
  align-items: center;
}
.item img,
.blank {
  width: 132px;
  height: 84px;
  object-fit: cover;
  border-radius: 3px;
  background: var(--track);
  flex: none;
}
.blank {
  display: grid;
  place-items: center;
}
.what {
  flex: 1;
  min-width: 0;
  display: grid;
  gap: 2px;
}
.file {
  font-size: 16px;
  overflow-wrap: anywhere;
}
.proof {
  display: flex;
  gap: 8px;
  align-items: center;
}
.acts {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px;
  flex: none;
}
.slot {
  border: 1px dashed var(--soft-ink);
  border-radius: 6px;
  padding: 14px;
  display: flex;
  gap: 12px;
  align-items: center;
  flex-wrap: wrap;
}
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 14px;
}
label {
  font-weight: 700;
  display: block;
  padding-bottom: 4px;
}
.wanted :deep(.v-field__outline) {
  --v-field-border-width: 2px;
  color: var(--saffron-line);
  --v-field-border-opacity: 1;
}
.wanted-note {
  color: var(--saffron);
}
.press {
  display: flex;
  gap: 16px;
  align-items: center;
}
.feedback,
.fault {
  padding: 16px;
  display: grid;
  gap: 6px;
}
.fault {
  background: var(--madder-soft);
  border-color: var(--madder);
}
.line {
  display: flex;
  justify-content: space-between;
}
.side {
  display: grid;
  gap: 12px;
  align-content: start;
}
.events {
  list-style: none;
  margin: 0;
  padding: 16px;
  display: grid;
  gap: 14px;
}
.events li {
  display: grid;
  padding-left: 28px;
  position: relative;
  overflow-wrap: anywhere;
}
.events li::before {
  content: '';
  position: absolute;
  left: 2px;
  top: 4px;
  width: 12px;
  height: 12px;
  border-radius: 50%;
  border: 2px solid var(--soft-ink);
}
.events li.past::before {
  background: var(--met);
  border-color: var(--met);
}
.who {
  padding: 14px 16px;
}
.look {
  padding: 16px;
  display: grid;
  gap: 12px;
  justify-items: start;
}
.look video,
.look img {
  max-width: 100%;
  max-height: 70vh;
}
@media (max-width: 1000px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
    padding: 14px 12px 120px;
  }
  .item {
    flex-wrap: wrap;
  }
  .fields {
    grid-template-columns: 1fr;
  }
  .band {
    padding: 11px 14px;
  }
}
</style>
