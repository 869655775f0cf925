import { judgeDetail, type DetailVerdict, type PhotoFacts } from '@apodix/core';

/** One thing that was looked at in a photograph; `open` where nothing could be told. */
export interface CheckRow {
  readonly label: string;
  readonly state: 'met' | 'short' | 'open';
  readonly figure: string;
  /** What to do about it, where something is to be done. */
  readonly then?: string;
}

const MOST_BURNT = 0.01;
const MOST_BLACK = 0.1;
const MOST_GLARE = 0.004;
const percent = (share: number) => `${(share * 100).toFixed(share < 0.1 ? 1 : 0)} %`;

/** What was looked at in a photograph before it is handed in, a line each. */
export function listChecks(photo: PhotoFacts, hasLocation: boolean | null): CheckRow[] {
  const { detail, piece, glareShare = 0, isFromScreen = false } = photo;
  const rows: CheckRow[] = [];
  const found = judgeDetail(photo);
  if (detail && found) {
    rows.push(describeSharpness(found));
    if (found.writing)
      rows.push({
        label: 'Small writing',
        state: found.writing === 'legible' ? 'met' : 'short',
        figure: `strokes ${(detail.writing?.strokePx ?? 0).toFixed(1)} px`,
        ...(found.writing === 'legible' ? {} : { then: 'Hard to read. Take it again from nearer.' }),
      });
    rows.push({
      label: 'Grain',
      state: found.isGrainy ? 'short' : 'met',
      figure: `${detail.grain.toFixed(1)} of 255`,
      ...(found.isGrainy ? { then: 'Take it again with more light.' } : {}),
    });
    if (!isFromScreen)
      rows.push(
        {
          label: 'Burnt white',
          state: detail.burntShare > MOST_BURNT ? 'short' : 'met',
          figure: percent(detail.burntShare),
          ...(detail.burntShare > MOST_BURNT
            ? { then: 'Nothing is drawn there any more. Less light, or tap on the brightest place first.' }
            : {}),
        },
        {
          label: 'All but black',
          state: detail.blackShare > MOST_BLACK ? 'open' : 'met',
          figure: percent(detail.blackShare),
          ...(detail.blackShare > MOST_BLACK ? { then: 'Fine where the piece is black itself.' } : {}),
        },
      );
  }
  if (piece !== undefined)
    rows.push(
      piece
        ? {
            label: 'Whole piece',
            state: piece.isCutOff ? 'short' : 'met',
            figure: piece.isCutOff ? 'at the border' : 'four sides',
            ...(piece.isCutOff ? { then: 'If it goes on beyond, take it again from further away.' } : {}),
          }
        : { label: 'Whole piece', state: 'open', figure: 'look for yourself' },
    );
  if (!isFromScreen && piece)
    rows.push({
      label: 'Lamp seen in it',
      state: glareShare > MOST_GLARE ? 'short' : 'met',
      figure: percent(glareShare),
      ...(glareShare > MOST_GLARE ? { then: 'Move the lamp to the side and take it again.' } : {}),
    });
  rows.push({
    label: 'Place in the file',
    state: hasLocation === null ? 'open' : 'met',
    figure: hasLocation === null ? 'cannot be told' : hasLocation ? 'will be left out' : 'none',
  });
  return rows;
}

function describeSharpness({ clearness, partsClear, partsTold }: DetailVerdict): CheckRow {
  const figure = `${partsClear} of ${partsTold} parts`;
  const label = 'Sharp';
  if (clearness === 'nowhere-told') return { label, state: 'open', figure: 'no edges to tell by' };
  if (clearness === 'clear') return { label, state: 'met', figure };
  return {
    label,
    state: 'short',
    figure,
    then:
      clearness === 'partly'
        ? 'Take it again from straight in front, and tap on the piece to focus.'
        : 'Take it again: hold still, more light, and tap to focus. If the piece itself is soft, it is fine.',
  };
}
