<script setup lang="ts">
import { computed, ref, useTemplateRef } from 'vue';
import FileDrop from '../../components/FileDrop.vue';
import { useNow } from '../../composables/useNow.ts';
import { useWork } from '../../stores/work.ts';
import CameraStage from '../capture/CameraStage.vue';
import KeptCard from '../capture/KeptCard.vue';
import RecordingReview from '../capture/RecordingReview.vue';
import { useSeenTakes } from '../capture/presence/useSeenTakes.ts';
import { useCardSignIn } from '../cards/useCardSignIn.ts';
import LedgerColumn from '../ledger/LedgerColumn.vue';
import PhoneDialog from '../phone/PhoneDialog.vue';
import { useTakeWork } from '../work/useTakeWork.ts';
import LookingBar from './LookingBar.vue';
import ShownTake from './ShownTake.vue';
import { describeLikeness } from './describe-likeness.ts';
import TakeCard from './TakeCard.vue';
import TakeSearch from './TakeSearch.vue';
import UploadCard from '../../components/UploadCard.vue';
import UseTakeDialog from './UseTakeDialog.vue';
import { useTakesCamera } from './useTakesCamera.ts';
import { useTakesPage } from './useTakesPage.ts';

const work = useWork();
const now = useNow();
const drop = useTemplateRef<InstanceType<typeof FileDrop>>('drop');
const { take: shown, rows, made, caption } = useTakeWork();
const page = useTakesPage();
const { view, sending, search, found, wantedName, bringIn, shape, remove, leave, rename, flip } = page;
const { camera, task, kept, review, open, close } = useTakesCamera();
const seen = useSeenTakes(() => camera.value === 'off' && kept.shown.value === null);
const { onCard } = useCardSignIn(() => `${window.location.pathname}?camera=on`);
const [isUseOpen, isPhoneOpen] = [ref(false), ref(false)];
const photoCount = computed(() => work.readyTakes.filter(({ facts }) => facts?.photo).length);
const isEmpty = computed(() => !shown.value && !kept.shown.value);
const action = computed(() => {
  if (camera.value !== 'off') return 'Bring in a file instead';
  if (kept.shown.value) return 'Keep this take';
  return work.readyTakes.length ? 'Shape this take' : 'Open the camera';
});
function onAction(): void {
  if (camera.value !== 'off') drop.value?.choose();
  else if (kept.shown.value) void kept.keep(kept.shown.value);
  else if (shown.value && work.readyTakes.length) void shape(shown.value);
  else open();
}
</script>

<template>
  <LedgerColumn
    :rows="rows"
    :is-proven="made !== null"
    :caption="camera === 'off' ? caption : 'before recording'"
    :action-label="action"
    @action="onAction"
  />
  <div v-if="view" class="stage">
    <CameraStage
      v-if="camera !== 'off'"
      :key="camera"
      :task="task"
      :is-practice="camera === 'practice'"
      @close="close"
      @recorded="review"
      @bring-in="drop?.choose()"
      @phone="isPhoneOpen = true"
      @card="onCard"
      @files="bringIn"
    />
    <RecordingReview
      v-else-if="kept.shown.value"
      :recording="kept.shown.value"
      :url="kept.playUrl.value"
      @keep="kept.keep(kept.shown.value)"
      @again="open()"
      @away="kept.throwAway(kept.shown.value)"
    />
    <ShownTake v-else-if="shown" :take="shown" />
    <div v-else class="surround">
      <div class="empty">
        <h2>Record it here, or bring it in</h2>
        <p>
          Straight from this device’s camera, from a phone, or a file as it is. Nothing has to be converted
          first.
        </p>
        <div class="ways">
          <v-btn class="go" color="primary" @click="open()">Open the camera</v-btn>
          <v-btn class="quiet" @click="drop?.choose()">Bring in a file</v-btn>
          <v-btn class="quiet" @click="isPhoneOpen = true">Send it from a phone</v-btn>
          <v-btn class="quiet" @click="open(true)">Try the practice camera</v-btn>
        </div>
      </div>
    </div>
    <div class="takes" :class="{ low: camera !== 'off' }">
      <div class="head">
        <h2>Takes so far</h2>
        <TakeSearch v-if="work.takes.length > 3" v-model="search" />
        <span class="note">newest first · drop or paste files anywhere</span>
        <button v-if="!isEmpty && camera === 'off'" type="button" @click="open()">Record another one</button>
        <button v-if="!isEmpty" type="button" @click="isPhoneOpen = true">Send from a phone</button>
        <router-link v-if="photoCount > 0" class="link" :to="{ name: 'sheet' }">Lay out a sheet</router-link>
        <button type="button" @click="isUseOpen = true">Use a take that is here already</button>
      </div>
      <LookingBar v-if="seen.running.value" :running="seen.running.value" @skip="seen.skip()" />
      <div class="row">
        <UploadCard v-for="item in sending" :key="item.key" :item="item" @choose="drop?.choose()" />
        <KeptCard
          v-for="recording in kept.all.value"
          :key="recording.id"
          :recording="recording"
          :is-shown="recording.id === kept.shown.value?.id"
          @keep="kept.keep(recording)"
          @look="kept.show(recording)"
          @away="kept.throwAway(recording)"
        />
        <TakeCard
          v-for="take in found"
          :key="take.id"
          :take="take"
          :is-shown="take.id === shown?.id"
          :is-low="camera !== 'off'"
          :job="work.findJob(take.id, 'inspect')"
          :now="now"
          :likeness="describeLikeness(take, work.takes)"
          :wanted-name="wantedName"
          @shape="shape(take)"
          @remove="remove(take)"
          @leave="leave(take)"
          @rename="rename(take, $event)"
          @flip="flip(take)"
        />
        <FileDrop
          ref="drop"
          class="drop"
          label="Drop recordings or photographs here"
          note="or choose them"
          @files="bringIn"
        />
      </div>
    </div>
    <UseTakeDialog v-model="isUseOpen" />
    <PhoneDialog v-model="isPhoneOpen" :assignment-id="view.id" />
  </div>
</template>

<style scoped>
.stage {
  flex: 1;
  min-width: 0;
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.surround {
  flex: 1;
  min-height: 200px;
  background: var(--surround);
  display: grid;
  place-content: center;
  padding: 16px;
}
.empty {
  background: var(--sheet);
  border-radius: 6px;
  padding: 24px 28px;
  max-width: 520px;
  display: grid;
  gap: 8px;
  text-align: center;
}
.ways {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
  margin-top: 8px;
}
.takes {
  background: var(--sheet);
  border-top: 1px solid var(--line);
  padding: 10px 16px 16px;
  max-height: 42%;
  overflow-y: auto;
}
@media (min-width: 1001px) {
  .takes.low {
    max-height: 182px;
  }
}
.head {
  display: flex;
  gap: 6px 18px;
  align-items: center;
  flex-wrap: wrap;
  margin-bottom: 8px;
}
.head .note {
  margin-right: auto;
}
.head button,
.head .link {
  min-height: 40px;
  align-content: center;
  text-decoration: underline;
  text-underline-offset: 3px;
}
.head h2 {
  font-size: 15px;
}
.row {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(330px, 1fr));
  gap: 12px;
}
@media (max-width: 1000px) {
  .takes {
    max-height: none;
    padding-bottom: 130px;
  }
  .row {
    grid-template-columns: minmax(0, 1fr);
  }
  .surround {
    flex: none;
  }
  .ways {
    grid-template-columns: 1fr;
  }
}
</style>
