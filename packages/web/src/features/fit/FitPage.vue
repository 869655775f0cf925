<script setup lang="ts">
import { formatBytes, readMaxBytes, type MadeView } from '@apodix/core';
import { ref } from 'vue';
import JobBar from '../../components/JobBar.vue';
import NameDialog from '../../components/NameDialog.vue';
import NeedsTake from '../../components/NeedsTake.vue';
import { useSendSpeed } from '../../composables/useSendSpeed.ts';
import { useWork } from '../../stores/work.ts';
import LedgerColumn from '../ledger/LedgerColumn.vue';
import FinishedVideo from './FinishedVideo.vue';
import MadeCard from './MadeCard.vue';
import OfferList from './OfferList.vue';
import PicturePair from './PicturePair.vue';
import SendSpeed from './SendSpeed.vue';
import SizeChart from './SizeChart.vue';
import TakeTable from './TakeTable.vue';
import { useFit } from './useFit.ts';

const work = useWork();
const fit = useFit();
const { take, result, made, rows, caption, plan, isVideo, offers, unmade, sizeLimit, job } = fit;
const { sampling, failed, everyMustMet, left, proof, older, lines, parts, table } = fit;
const { madePoints, otherLimits } = fit;
const { megabits, measured } = useSendSpeed();
const renamed = ref<MadeView | null>(null);
function rename(stem: string): void {
  if (renamed.value) void fit.rename(renamed.value, stem);
  renamed.value = null;
}
</script>

<template>
  <LedgerColumn
    :rows="rows"
    :is-proven="made !== null"
    :ahead="take"
    :caption="caption"
    :action-label="take && !made && !job && result?.plan ? 'Fit it for me' : null"
    @action="fit.fitForMe"
  />
  <NeedsTake v-if="!take" heading="Fit needs a take" :assignment-id="work.assignment?.id" />
  <div v-else class="fit">
    <TakeTable
      v-if="table.length"
      :rows="table"
      :picked-id="take.id"
      :unmade="unmade.length"
      @pick="fit.pick"
      @make-all="fit.makeAll"
    />
    <div class="grid">
      <SizeChart
        v-if="isVideo"
        :take="take"
        :offers="offers"
        :plan="result?.plan ?? null"
        :limit-bytes="sizeLimit?.maxBytes ?? null"
        :made="madePoints"
        :sampling="sampling"
        :other-limits="otherLimits"
        :is-making="job !== null"
        :is-made="made !== null"
        @choose="fit.choose"
        @cancel="fit.cancel"
      />
      <PicturePair v-else :take="take" :made="made" :lines="lines" />
      <div class="side">
        <section v-if="result && result.refusals.length" class="sheet box refusal" role="alert">
          <h2>Cannot be met with this take</h2>
          <p v-for="refusal in result.refusals" :key="refusal.message">{{ refusal.message }}</p>
        </section>
        <MadeCard v-if="made" :made="made" :every-must-met="everyMustMet" :left="left" :proof="proof" />
        <OfferList
          v-else-if="offers?.offers.length"
          :offers="offers.offers"
          :choice="take.choice"
          :samples="take.samples"
          :megabits="megabits"
          :is-disabled="job !== null"
          @choose="fit.choose"
        />
        <section v-else-if="plan" class="sheet box best">
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
        <div v-if="job" class="sheet box best">
          <JobBar
            :stage="job.stage"
            :share="job.share"
            :seconds-left="job.secondsLeft"
            can-cancel
            @cancel="fit.cancel(job.id)"
          />
          <p class="note">You may leave this page; it goes on.</p>
        </div>
        <section v-if="failed && !job && !made" class="sheet box refusal" role="alert">
          <h2>It did not work</h2>
          <p>{{ failed.fault?.message }} {{ failed.fault?.detail }}</p>
          <p>{{ failed.fault?.next }}</p>
        </section>
        <v-btn v-if="!made && !job && plan" class="go" block height="46" @click="fit.make"
          >Make the file</v-btn
        >
        <template v-if="made">
          <v-btn
            class="go"
            block
            height="46"
            :to="{ name: 'hand-in', params: { assignmentId: work.assignment?.id } }"
            >{{ work.assignment?.kind === 'course' ? 'Go to hand in' : 'Save the file' }}</v-btn
          >
          <div class="pair">
            <v-btn class="quiet" :href="`${made.fileUrl}?save`">Save a copy</v-btn
            ><v-btn class="quiet" @click="fit.remove(made)">Throw away</v-btn>
          </div>
          <v-btn class="quiet" block @click="renamed = made">Rename</v-btn>
        </template>
        <SendSpeed v-if="isVideo && !made" v-model="megabits" :measured="measured" />
        <p class="note centre">the recording itself is never changed</p>
        <section v-if="older.length" class="sheet box">
          <h2>Made before the last change</h2>
          <div v-for="file in older" :key="file.id" class="line">
            <span class="name">{{ file.fileName }} · {{ formatBytes(file.sizeBytes) }}</span
            ><button type="button" @click="fit.remove(file)">Throw away</button>
          </div>
        </section>
      </div>
    </div>
    <FinishedVideo
      v-if="parts.length && isVideo"
      :made="made"
      :lines="lines"
      :parts="parts"
      :size-limit="sizeLimit"
    />
    <NameDialog :file-name="renamed?.fileName ?? null" @name="rename" @close="renamed = null" />
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
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
}
.pair .v-btn {
  min-width: 0;
}
.side {
  display: grid;
  gap: 10px;
}
.side h2 {
  font-size: 15.5px;
}
.box {
  padding: 12px 14px;
  display: grid;
  gap: 6px;
}
.best {
  border: 2px solid var(--met);
}
.refusal {
  background: var(--madder-soft);
  border-color: var(--madder);
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
.centre {
  text-align: center;
}
@media (max-width: 1000px) {
  .grid {
    grid-template-columns: minmax(0, 1fr);
  }
  .fit {
    padding: 12px 12px 140px;
  }
}
</style>
