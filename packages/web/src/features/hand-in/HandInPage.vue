<script setup lang="ts">
import { cleanDisplayName, type MadeView } from '@apodix/core';
import { ref } from 'vue';
import JobBar from '../../components/JobBar.vue';
import NameDialog from '../../components/NameDialog.vue';
import { describePast } from '../../composables/describe-due.ts';
import { useWork } from '../../stores/work.ts';
import LedgerColumn from '../ledger/LedgerColumn.vue';
import AnswerField from './AnswerField.vue';
import ByHandDialog from './ByHandDialog.vue';
import { describeMissing } from './describe-missing.ts';
import HandInBand from './HandInBand.vue';
import HandInSide from './HandInSide.vue';
import LookDialog from './LookDialog.vue';
import ParcelItem from './ParcelItem.vue';
import ParcelWords from './ParcelWords.vue';
import { useHandIn } from './useHandIn.ts';

const work = useWork();
const handIn = useHandIn();
const { view, draft, now, items, job, standing, isReceived, isCourse, missing, attemptsLeft } = handIn;
const { rows, failed, feedback, openSlots, writtenSlots, canHandIn, canTakeBack, canNoteByHand } = handIn;
const { isPressed, countIn, listFitting } = handIn;
const seen = ref<MadeView | null>(null);
const renamed = ref<MadeView | null>(null);
const isByHandOpen = ref(false);
function rename(stem: string): void {
  if (renamed.value) void handIn.rename(renamed.value, stem);
  renamed.value = null;
}
</script>

<template>
  <LedgerColumn
    v-if="view"
    :rows="rows"
    :is-proven="items.length > 0"
    :caption="['parcel', 'file and parcel'][items.length] ?? 'first file and parcel'"
    :action-label="null"
  />
  <div v-if="view" class="hand-in">
    <HandInBand
      v-if="isCourse"
      :standing="standing"
      :is-received="isReceived"
      :is-sending="job !== null"
      :missing="missing"
      :now="now"
    />
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
        <ParcelItem
          v-for="{ made, slot } in items"
          :key="made.id"
          :made="made"
          :slot-of="slot"
          :now="now"
          :is-fixed="isReceived || job !== null"
          @see="seen = made"
          @rename="renamed = made"
          @take-out="handIn.takeOut(made)"
        />
        <article v-for="slot in openSlots" :key="slot.id" class="slot">
          <strong>{{ slot.label }}</strong><span class="note"
            >{{ countIn(slot) }} of
            {{ slot.min === slot.max ? slot.min : `${slot.min} to ${slot.max}` }} here</span
          >
          <v-btn
            v-for="made in listFitting(slot)"
            :key="made.id"
            class="quiet"
            @click="handIn.putIn(slot, made)"
            >Put in {{ cleanDisplayName(made.fileName, 34) }}</v-btn
          >
          <router-link
            v-if="listFitting(slot).length === 0"
            :to="{ name: work.readyTakes.length ? 'fit' : 'takes', params: { assignmentId: view.id } }"
            >{{ work.readyTakes.length ? 'Make a file in Fit' : 'Bring in a take' }}</router-link
          >
        </article>
        <AnswerField
          v-for="slot in writtenSlots"
          :key="slot.id"
          :slot-of="slot"
          :model-value="draft.answers[slot.id] ?? ''"
          :is-fixed="isReceived || job !== null"
          :is-saved="draft.isSaved.value"
          @update:model-value="draft.answers[slot.id] = $event"
          @typed="draft.saveSoon"
        />
        <template v-if="isCourse && !isReceived">
          <ParcelWords v-model="draft.text" :limits="view.limits" @typed="draft.saveSoon" />
          <JobBar
            v-if="job"
            :stage="job.stage"
            :share="job.share"
            :seconds-left="job.secondsLeft"
            can-cancel
            @cancel="handIn.stop"
          />
          <div class="press">
            <v-btn
              class="go"
              size="large"
              height="48"
              :disabled="!canHandIn"
              :loading="isPressed || job !== null"
              @click="handIn.handIn"
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
        <div v-if="isCourse && (canTakeBack || canNoteByHand)" class="other">
          <button v-if="canTakeBack" type="button" :disabled="isPressed" @click="handIn.takeBack">
            Take it back</button
          ><button v-if="canNoteByHand" type="button" @click="isByHandOpen = true">
            I gave it to my teacher by hand
          </button>
        </div>
        <p v-if="!isCourse && items.length === 0" class="note">Made files wait here to be saved.</p>
      </div>
      <HandInSide
        v-if="isCourse"
        :view="view"
        :is-received="isReceived"
        :is-sending="job !== null"
        :attempts-left="attemptsLeft"
        :now="now"
      />
    </div>
    <LookDialog :made="seen" @close="seen = null" />
    <NameDialog :file-name="renamed?.fileName ?? null" @name="rename" @close="renamed = null" />
    <ByHandDialog v-model="isByHandOpen" @note="handIn.noteByHand" />
  </div>
</template>

<style scoped>
.hand-in {
  flex: 1;
  overflow-y: auto;
  min-width: 0;
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
.slot {
  border: 1px dashed var(--soft-ink);
  border-radius: 6px;
  padding: 14px;
  display: flex;
  gap: 12px;
  align-items: center;
  flex-wrap: wrap;
}
.press {
  display: flex;
  gap: 16px;
  align-items: center;
}
.other {
  display: flex;
  gap: 20px;
  flex-wrap: wrap;
}
.other button {
  min-height: 40px;
  text-decoration: underline;
  text-underline-offset: 3px;
  color: var(--soft-ink);
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
@media (max-width: 1000px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
    padding: 14px 12px 120px;
  }
}
</style>
