import type { SampleText } from './texts.ts';

/** Dutch, for the trial of a second language. */
export const dutchTexts: readonly SampleText[] = [
  {
    text: 'Lever één video in van ten hoogste 3 minuten, als MP4 en niet groter dan 100 MB.',
    asks: ['count video 1..1', 'length ..3:00', 'format mp4', 'size ..100MB'],
  },
  {
    text: 'Het filmpje duurt tussen twee en drie minuten. Film liggend.',
    asks: ['length 2:00..3:00', 'held landscape'],
  },
  {
    text: 'Neem je stuk in één keer op, zonder knippen. Maximaal 250 MB, uiterlijk vrijdag 12 maart 2027.',
    asks: ['onetake', 'size ..250MB', 'due 2027-03-12'],
  },
  {
    text: 'De opname is minstens 45 seconden en niet langer dan anderhalve minuut.',
    asks: ['length 0:45..1:30'],
  },
  {
    text: "Maak drie foto's van je tekening, als JPEG, elk niet groter dan 5 MB.",
    asks: ['count photo 3..3', 'format jpeg', 'size ..5MB'],
  },
  {
    text: 'Het geluid moet hoorbaar zijn. Formaat: WAV of FLAC, geen MP3.',
    asks: ['sound yes', 'format flac|wav !mp3'],
  },
  { text: 'Wij oefenen dinsdag een kwartier in de hal. Neem je gymschoenen mee en wees op tijd.', asks: [] },
  {
    text: 'Je monoloog mag niet langer dan twee minuten duren. Lever hem in als MP4 of MOV.',
    asks: ['length ..2:00', 'format mov|mp4'],
  },
  {
    text: 'Inleverdatum: 26 februari 2027. De video is ten minste 1080p.',
    asks: ['due 2027-02-26', 'lines 1080..'],
  },
  {
    text: 'Schilderij fotograferen: foto van minimaal 2000 pixels op de lange zijde, scherp, ten hoogste 8 MB.',
    asks: ['long 2000..', 'sharp', 'size ..8MB'],
  },
  { text: 'Het is je eigen werk. Het telt voor 20 punten in totaal.', asks: ['own', 'points 20'] },
  {
    text: 'Stuur een geluidsopname van ongeveer twee minuten, als M4A, hooguit 20 MB.',
    asks: ['count sound 1..1', 'length ~2:00', 'format m4a', 'size ..20MB'],
  },
];
