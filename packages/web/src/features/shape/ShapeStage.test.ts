import { createPlainRecipe, type TakeView } from '@apodix/core';
import { mount } from '@vue/test-utils';
import { expect, it } from 'vitest';
import ShapeStage from './ShapeStage.vue';

it('a recording of sound alone is handed on to be played', async () => {
  const take = { id: 'a', kind: 'sound', name: 'solo.wav', proxyUrl: '/a.mp4', facts: null, draft: null };
  const stage = mount(ShapeStage, {
    props: {
      take: take as unknown as TakeView,
      recipe: createPlainRecipe(),
      steady: null,
      isBefore: false,
      isPlaying: false,
      isTimed: true,
      positionUs: 0,
      frameIndex: null,
      isCropping: false,
      corners: null,
      cropLock: null,
      isLeveling: false,
      isPicking: false,
      isMarked: false,
      isRead: false,
      isSplit: false,
      guests: [],
      shownGuest: null,
      isHiding: false,
      chosenHidden: 0,
    },
  });
  await stage.find('audio').trigger('loadeddata');
  expect(stage.emitted('element')?.[0]?.[0]).toBe(stage.find('audio').element);
});
