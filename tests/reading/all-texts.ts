import { eighthTexts } from './eighth-texts.ts';
import { fifthTexts } from './fifth-texts.ts';
import { ninthTexts } from './ninth-texts.ts';
import { tenthTexts } from './tenth-texts.ts';
import { seventhTexts } from './seventh-texts.ts';
import { sixthTexts } from './sixth-texts.ts';
import { fourthTexts } from './fourth-texts.ts';
import { moreTexts } from './more-texts.ts';
import { texts, type SampleText } from './texts.ts';
import { thirdTexts } from './third-texts.ts';

/** Every text of the benchmark by the set in which it was written. */
export const sets: Readonly<Record<string, readonly SampleText[]>> = {
  first: texts,
  second: moreTexts,
  third: thirdTexts,
  fourth: fourthTexts,
  fifth: fifthTexts,
  sixth: sixthTexts,
  seventh: seventhTexts,
  eighth: eighthTexts,
  ninth: ninthTexts,
  tenth: tenthTexts,
};
