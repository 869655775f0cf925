import { describe, expect, it } from 'vitest';
import { describeAhead } from './describe-ahead.ts';

const video = { kind: 'video', isMadeAhead: true } as const;
const free = { isBusy: false };

describe('what is told of getting ahead', () => {
  it('is how far it is, rounded down, or that it waits for its time', () => {
    expect(describeAhead(video, { state: 'running', share: 0.609 }, free)?.text).toBe('Getting ahead: 60 %');
    expect(describeAhead(video, { state: 'waiting', share: 0.3 }, free)).toEqual({
      text: 'Getting ahead when there is time',
      button: 'Don’t',
    });
  });
  it('is that it was told not to, with a way back', () =>
    expect(describeAhead({ ...video, isMadeAhead: false }, null, free)).toEqual({
      text: 'Not getting ahead',
      button: 'Get ahead',
    }));
  it('is nothing where nothing is made ahead, or the file itself is being made or there', () => {
    expect(describeAhead(video, null, free)).toBeNull();
    expect(describeAhead({ kind: 'photo', isMadeAhead: false }, null, free)).toBeNull();
    expect(describeAhead(video, { state: 'running', share: 0.5 }, { isBusy: true })).toBeNull();
  });
});
