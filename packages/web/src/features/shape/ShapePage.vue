<script setup lang="ts">
import { cleanDisplayName } from '@apodix/core';
import { computed } from 'vue';
import JobBar from '../../components/JobBar.vue';
import NeedsTake from '../../components/NeedsTake.vue';
import { useWork } from '../../stores/work.ts';
import LedgerColumn from '../ledger/LedgerColumn.vue';
import KeptPart from './KeptPart.vue';
import ShapeStage from './ShapeStage.vue';
import ShapeTools from './ShapeTools.vue';
import { useShape } from './useShape.ts';

const work = useWork();
const shape = useShape();
const { take, editor, recipe, player, series, range, durationUs, frameUs, made, rows } = shape;
const { isBefore, isTimed, isGoingOn, proposal, measuring } = shape;
const caption = computed(() => `${rows.value.filter((row) => row.limit.severity === 'must').length} must`);
const isPicture = computed(() =>
  Boolean(take.value?.facts?.video ?? take.value?.draft?.video ?? take.value?.facts?.photo),
);
function seek(instantUs: number): void {
  player.pause();
  player.seek(instantUs);
}
</script>

<template>
  <LedgerColumn
    :rows="rows"
    :is-proven="made !== null"
    :caption="caption"
    :action-label="take?.facts ? (made ? 'See the made file' : 'Fit it for me') : null"
    :is-action-busy="isGoingOn"
    @action="shape.goOn"
  />
  <NeedsTake v-if="!take" heading="Shape needs a take" :assignment-id="work.assignment?.id" />
  <div v-else class="shape">
    <div class="top">
      <ShapeStage
        :take="take"
        :recipe="recipe"
        :is-before="isBefore"
        :is-playing="player.isPlaying.value"
        :is-timed="isTimed"
        :position-us="player.positionUs.value"
        :frame-index="player.frameIndex.value"
        @element="player.attach"
        @toggle="player.toggle"
        @step="player.step"
      />
      <ShapeTools
        v-model:is-before="isBefore"
        :recipe="recipe"
        :is-timed="isTimed"
        :is-picture="isPicture"
        :has-proposal="proposal !== null"
        :can-undo="editor.canUndo.value"
        :can-redo="editor.canRedo.value"
        :is-saved="editor.isSaved.value"
        @start-here="shape.startHere"
        @finish-here="shape.finishHere"
        @keep-all-of-it="shape.setRange({ startUs: 0, finishUs: durationUs }, false)"
        @turn="shape.turn"
        @mirror="shape.mirror"
        @undo="editor.undo"
        @redo="editor.redo"
        @suggested="shape.useProposal"
        @as-recorded="shape.keepAll"
      />
    </div>
    <div class="foot">
      <div v-if="measuring" class="measuring" data-testid="measuring">
        <p>
          <strong>Play and cut it already.</strong> The picture is rough and limits are not judged until every
          frame is measured.
        </p>
        <JobBar :stage="measuring.stage" :share="measuring.share" :seconds-left="measuring.secondsLeft" />
      </div>
      <KeptPart
        v-if="isTimed"
        :take="take"
        :peaks="series?.peaks?.peaks ?? []"
        :range="range"
        :duration-us="durationUs"
        :position-us="player.positionUs.value"
        :frame-us="frameUs"
        @seek="seek"
        @range="shape.setRange"
      />
      <div v-if="work.workableTakes.length > 1" class="others" role="group" aria-label="Takes">
        <button
          v-for="each in work.workableTakes"
          :key="each.id"
          type="button"
          :class="{ on: each.id === take.id }"
          :aria-pressed="each.id === take.id"
          @click="shape.pick(each.id)"
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
.foot {
  background: var(--sheet);
  border-top: 1px solid var(--line);
  padding: 10px 16px 12px;
  display: grid;
  gap: 8px;
}
.measuring {
  display: grid;
  gap: 4px;
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
  .foot {
    order: 2;
    padding-bottom: 16px;
  }
  .shape {
    padding-bottom: 120px;
  }
}
</style>
