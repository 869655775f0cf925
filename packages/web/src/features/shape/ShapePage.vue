<script setup lang="ts">
import { cleanDisplayName } from '@apodix/core';
import { computed, ref, useTemplateRef, watch } from 'vue';
import JobBar from '../../components/JobBar.vue';
import NeedsTake from '../../components/NeedsTake.vue';
import { useWork } from '../../stores/work.ts';
import LedgerColumn from '../ledger/LedgerColumn.vue';
import AboutTools from './about/AboutTools.vue';
import { useAbout } from './about/useAbout.ts';
import CheckTools from './check/CheckTools.vue';
import ColorTools from './color/ColorTools.vue';
import LightTools from './color/LightTools.vue';
import TargetTools from './color/TargetTools.vue';
import { useLight } from './color/useLight.ts';
import { useTarget } from './color/useTarget.ts';
import { useCornerSetting } from './useCornerSetting.ts';
import CardTools from './cut/CardTools.vue';
import CutTools from './cut/CutTools.vue';
import { useCard } from './cut/useCard.ts';
import EdgeTools from './frame/EdgeTools.vue';
import FlattenTools from './frame/FlattenTools.vue';
import FrameTools from './frame/FrameTools.vue';
import SteadyTools from './frame/SteadyTools.vue';
import KeptPart from './KeptPart.vue';
import ShapeStage from './ShapeStage.vue';
import ShapeTools from './ShapeTools.vue';
import SeparateTools from './sound/SeparateTools.vue';
import SoundTools from './sound/SoundTools.vue';
import type { ToolGroup } from './tool-group.ts';
import { useShape } from './useShape.ts';
import { useToolGroups } from './useToolGroups.ts';

const work = useWork();
const shape = useShape();
const { take, editor, recipe, player, series, cut, frame, color, sound, recording, view } = shape;
const { durationUs, frameUs, made, rows, isBefore, isTimed, isGoingOn, proposal, measuring } = shape;
const [card, about] = [useCard(editor, take), useAbout(editor, take)];
const [light, target] = [useLight(editor, take), useTarget(editor, take)];
const stage = useTemplateRef<InstanceType<typeof ShapeStage>>('stage');
const setting = useCornerSetting(frame.flat, target, () => stage.value?.readPicture() ?? null);
const group = ref<ToolGroup>('cut');
const caption = computed(() => `${rows.value.filter(({ limit }) => limit.severity === 'must').length} must`);
const groups = useToolGroups(shape, group);
watch(group, () => {
  frame.isCropping.value = false;
  color.isPicking.value = false;
});
// Lines in the picture tell how to stand it level, where it is looked at.
watch(
  [group, player.isPlaying, () => take.value?.id],
  ([own, isPlaying]) => {
    if (own === 'frame' && !isPlaying) frame.lookAtHorizon(stage.value?.readPicture() ?? null);
  },
  { flush: 'post' },
);
// Where it shall end is asked in Cut.
watch(shape.cutAsked, () => (group.value = 'cut'));
function seek(instantUs: number): void {
  player.pause();
  player.seek(instantUs);
}
</script>

<template>
  <LedgerColumn
    :rows="rows"
    :is-proven="made !== null"
    :ahead="take"
    :caption="caption"
    :action-label="take?.facts ? (made ? 'See the made file' : 'Fit it for me') : null"
    :is-action-busy="isGoingOn"
    @action="shape.goOn"
  />
  <NeedsTake v-if="!take" heading="Shape needs a take" :assignment-id="work.assignment?.id" />
  <div v-else class="shape">
    <div class="main">
      <ShapeStage
        ref="stage"
        :take="take"
        :recipe="recipe"
        :corners="setting.corners.value"
        :steady="frame.steady.course.value"
        :is-before="isBefore"
        :is-playing="player.isPlaying.value"
        :is-timed="isTimed"
        :position-us="player.positionUs.value"
        :frame-index="player.frameIndex.value"
        :is-cropping="frame.isCropping.value"
        :crop-lock="frame.cropLock.value"
        :is-leveling="frame.isLeveling.value"
        :is-picking="color.isPicking.value"
        :is-marked="color.isMarked.value"
        :is-read="group === 'color'"
        :is-split="color.isSplit.value"
        :guests="shape.guests.list.value"
        :shown-guest="shape.shownGuest.value"
        :is-hiding="group === 'frame' && !frame.isCropping.value"
        :chosen-hidden="frame.hidden.chosen.value"
        @choose-hidden="frame.hidden.choose"
        @move-hidden="frame.hidden.move"
        @resize-hidden="frame.hidden.resize"
        @guest="shape.guests.attach"
        @element="shape.attach"
        @toggle="player.toggle"
        @step="player.step"
        @corners="setting.move"
        @crop="frame.setCrop"
        @pick="color.pick"
        @before="isBefore = !isBefore"
      />
      <div class="foot">
        <div v-if="measuring" class="measuring" data-testid="measuring">
          <p>
            <strong>Play and cut it already.</strong> The picture is rough and limits are not judged until
            every frame is measured.
          </p>
          <JobBar :stage="measuring.stage" :share="measuring.share" :seconds-left="measuring.secondsLeft" />
        </div>
        <KeptPart
          v-if="isTimed"
          v-model:view="view"
          :take="take"
          :series="series"
          :parts="cut.parts.value"
          :chosen="cut.chosen.value"
          :range="cut.range.value"
          :duration-us="durationUs"
          :position-us="player.positionUs.value"
          :frame-us="frameUs"
          :gain-db="recipe.sound.gainDb + sound.mix.value.moreLu"
          :mix="sound.mix.value.mix"
          :wanted-loudness="sound.wanted.value"
          @seek="seek"
          @range="cut.setRange"
          @choose="cut.choose"
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
    <ShapeTools
      v-model:group="group"
      :groups="groups"
      :has-proposal="proposal !== null"
      :can-undo="editor.canUndo.value"
      :can-redo="editor.canRedo.value"
      :is-saved="editor.isSaved.value"
      :other-count="group === 'about' && !about.about.value ? 0 : shape.otherCount.value"
      @use-on-all="shape.useOnAll"
      @undo="editor.undo"
      @redo="editor.redo"
      @suggested="shape.useProposal"
      @as-recorded="shape.keepAll"
    >
      <template #cut
        ><CutTools
          :parts="cut.parts.value"
          :chosen="cut.chosen.value"
          :is-all="cut.isAll.value"
          :one-take-words="cut.oneTakeWords.value"
          :over-us="cut.overUs.value"
          :asked="shape.cutAsked.value"
          :places="cut.places.value"
          :under-us="cut.underUs.value"
          :is-looping="player.isLooping.value"
          :speed="player.speed.value"
          :has-picture="shape.hasPicture.value"
          :is-taking-still="shape.isTakingStill.value"
          :is-own-part="shape.isOwnPart.value"
          :part-names="shape.partNames.value"
          :joinable="shape.joinable.value"
          @add="shape.join"
          @start-here="shape.startHere"
          @finish-here="shape.finishHere"
          @keep-all-of-it="cut.keepAll"
          @times="(startUs, finishUs) => cut.setRange({ startUs, finishUs }, false)"
          @split="cut.split(player.positionUs.value)"
          @choose="cut.choose"
          @remove="cut.remove"
          @reorder="cut.reorder"
          @cut-at="cut.cutAt"
          @loop="player.isLooping.value = !player.isLooping.value"
          @speed="player.setSpeed"
          @still="shape.takeStill"
          @dissolve="cut.dissolve" /><CardTools
          v-if="shape.hasPicture.value"
          :card="recipe.card"
          :picture="card.picture.value"
          :is-wished="card.isWished.value"
          @add="card.add"
          @change="card.change"
          @remove="card.remove"
      /></template>
      <template #frame
        ><FrameTools
          :picture="recipe.picture"
          :is-cropping="frame.isCropping.value"
          :aspects="frame.aspects.value"
          :aspect="frame.aspect.value"
          :is-timed="isTimed"
          :is-framable="shape.hasPicture.value || frame.flat.isPossible.value"
          :level-degrees="frame.levelDegrees.value"
          :is-interlaced="frame.isInterlaced.value"
          :chosen-hidden="frame.hidden.chosen.value"
          :is-hiding-full="frame.hidden.isFull.value"
          :wrong-way="frame.wrongWay.value"
          @turn="frame.turn"
          @stand="frame.standWriting"
          @mirror="frame.mirror"
          @straighten="frame.straighten"
          @crop="frame.isCropping.value = !frame.isCropping.value"
          @aspect="frame.chooseAspect"
          @bars="frame.switchBars"
          @deinterlace="frame.setDeinterlace"
          @hide="frame.hidden.add"
          @choose-hidden="frame.hidden.choose"
          @stand-hidden="frame.hidden.stand"
          @remove-hidden="frame.hidden.remove"
          @reset="frame.reset"
          ><template #first
            ><FlattenTools
              v-if="frame.flat.isPossible.value"
              :flatten="frame.flat.flatten.value"
              :seen="frame.flat.seen.value"
              :is-setting="frame.flat.isSetting.value"
              @start="frame.flat.start"
              @setting="frame.flat.isSetting.value = !frame.flat.isSetting.value"
              @snap="setting.snap"
              @aspect="frame.flat.setAspect"
              @lens="frame.flat.setLens"
              @remove="frame.flat.remove" /></template
          ><template #default
            ><SteadyTools
              v-if="shape.hasPicture.value"
              :strength="frame.steady.strength.value"
              :lost="frame.steady.lost.value"
              :measuring="frame.steady.measuring.value"
              @start="frame.steady.start"
              @stop="frame.steady.stop"
              @change="frame.steady.set" /><EdgeTools
              v-else-if="frame.flat.isPossible.value"
              :picture="recipe.picture"
              @trim="frame.trim"
              @border="frame.setBorder" /></template></FrameTools
      ></template>
      <template #color
        ><LightTools
          v-if="light.isPossible.value"
          :light="light.light.value"
          :seen="light.seen.value"
          :evened="light.evened.value"
          :url="take.proxyUrl"
          :is-uneven="light.isUneven.value"
          :is-loading="light.isLoading.value"
          :sheets="light.sheets.value"
          @even="light.even"
          @leave="light.leave"
          @sheet="light.useSheet" /><TargetTools
          v-if="target.isPossible.value"
          :fit="target.fit.value"
          :has-target="target.target.value !== null"
          :is-used="target.isUsed.value"
          :is-setting="target.isSetting.value"
          :is-shown="target.isShown.value"
          :lines="target.lines.value"
          :wanted="target.wanted.value"
          :values-name="target.valuesName.value"
          @use="target.use"
          @leave="target.leave"
          @setting="target.isSetting.value = !target.isSetting.value"
          @show="target.isShown.value = $event"
          @bring-values="target.bringValues" /><ColorTools
          :settings="color.settings.value"
          :reasons="color.reasons.value"
          :is-proposed="color.isProposed.value"
          :is-picking="color.isPicking.value"
          :is-card="color.isCard.value"
          :is-marked="color.isMarked.value"
          :is-split="color.isSplit.value"
          :tones="stage?.tones ?? null"
          :models="color.models.value"
          :is-matching="color.isMatching.value"
          @change="color.change"
          @pick="color.startPicking"
          @propose="color.propose"
          @match="color.match"
          @save-table="color.saveTable"
          @bring-table="color.bringTable"
          @mark="color.isMarked.value = !color.isMarked.value"
          @split="color.isSplit.value = !color.isSplit.value"
      /></template>
      <template #about
        ><AboutTools
          :about="about.about.value"
          @add="about.add"
          @change="about.change"
          @remove="about.remove"
      /></template>
      <template #check
        ><CheckTools v-if="take.facts?.photo" :take="take" :photo="take.facts.photo"
      /></template>
      <template #sound
        ><SoundTools
          :sound="sound.sound.value"
          :is-stereo="sound.isStereo.value"
          :level="sound.level.value"
          :momentary="sound.momentary.value"
          :short-term="sound.shortTerm.value"
          :target-gain-db="sound.targetGainDb.value"
          :lacking-db="sound.lackingDb.value"
          :faults="sound.faults.value"
          :clipped-count="sound.clippedCount.value"
          :noise-floor-db="sound.noiseFloorDb.value"
          @change="sound.change"
          @reset="shape.resetSound" /><SeparateTools
          v-if="shape.hasPicture.value"
          :source="recording.source.value"
          :choices="recording.choices.value"
          :is-laying="recording.isLaying.value"
          :confidence="recording.confidence.value"
          :own-db="recipe.sound.ownDb"
          @own="recording.setOwn"
          @lay="recording.lay"
          @nudge="recording.nudge"
          @remove="recording.remove"
      /></template>
    </ShapeTools>
  </div>
</template>

<style scoped src="./shape-page.css"></style>
