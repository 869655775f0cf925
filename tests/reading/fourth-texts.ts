import type { SampleText } from './texts.ts';

/** A fourth set, written last. */
export const fourthTexts: readonly SampleText[] = [
  {
    text: "Year 12 drama: your duologue. Video it on any device you like. I'd like it to be somewhere in the region of four minutes, and please don't let it run past five. File type MP4. If it's more than 500 meg it won't upload.",
    asks: ['length ~4:00', 'length ..5:00', 'format mp4', 'size ..500MB'],
  },
  {
    text: 'Submit your ceramics portfolio: eight to ten JPEGs, no bigger than 2 MB each and no smaller than 1000 pixels across. Each piece against a plain background, shown whole.',
    asks: ['count photo 8..10', 'format jpeg', 'size ..2MB', 'width 1000..'],
    wishes: ['Each piece against a plain background'],
  },
  {
    text: 'Two-minute limit. Strictly no editing. MOV or MP4 accepted.',
    asks: ['length ..2:00', 'onetake', 'format mov|mp4'],
  },
  {
    text: 'For the tennis serve analysis you need to film 5 serves. Put the camera behind the baseline at waist height. High frame rate: 120 fps minimum. Do not zoom. Clip length up to 20 s.',
    asks: ['fps 120..', 'length ..0:20'],
    wishes: ['Do not zoom'],
  },
  {
    text: "Recordings need to come in at under 25 meg so that I can email them on. MP3's fine, so is M4A. Nothing else please.",
    asks: ['size ..25MB', 'format mp3|m4a'],
  },
  {
    text: 'Your etude recording may be audio or video. If audio: WAV, at least 44.1 kHz. If video: MP4, 720p or better. Either way no more than three and a half minutes.',
    asks: ['format wav', 'rate 44100..', 'format mp4', 'lines 720..', 'length ..3:30'],
  },
  { text: 'Correction to yesterday’s message: the length is 90 seconds, not 60.', asks: ['length =1:30'] },
  { text: 'The deadline was Wednesday. It is now Friday 27 November, 6pm.', asks: ['due 2026-11-27T18:00'] },
  {
    text: 'File name = class_surname_task, for example 12B_Okoro_Mask.jpg',
    asks: ['name class_surname_task', 'format jpeg'],
  },
  {
    text: 'Please use the following naming convention: CentreNumber_CandidateNumber_Surname.',
    asks: ['name CentreNumber_CandidateNumber_Surname'],
  },
  { text: 'Rename your file to initials-title before uploading.', asks: ['name initials-title'] },
  {
    text: 'pls send ur piano vid by 2moro nite, 2-3 mins, not too big (100mb ish), landscape not portrait',
    asks: ['length 2:00..3:00', 'held landscape', 'size ..100MB'],
  },
  {
    text: 'Assessment 2 (25 marks). Perform a solo of Grade 4 standard or above lasting 2 minutes minimum. Video recording required. No backing track over 120 bpm. Upload by 15:00 on 2 December.',
    asks: ['length 2:00..', 'due 2026-12-02T15:00', 'points 25'],
  },
  {
    text: 'Photograph your painting in natural light. Long side 3000px. sRGB JPEG, quality 90, below 7 MB. No frame, no flash, no fingers.',
    asks: ['long =3000', 'format jpeg', 'size ..7MB'],
  },
  { text: 'One A4 page scanned at 300dpi or higher as a PDF.', asks: ['dpi 300 210x297', 'format pdf'] },
  {
    text: 'Between 8 and 12 bars of melody, notated. Also record it: audio, thirty seconds or so.',
    asks: ['length ~0:30'],
  },
  {
    text: 'Film a partner. Ten throws from 5 m, ten from 10 m. Keep the camera still. Total video time must not go over 6 minutes. MP4 please.',
    asks: ['length ..6:00', 'format mp4'],
  },
  {
    text: 'Your final cut should be 4:00 (+/- 10%). 1920x1080, 24 fps, stereo sound, H.264.',
    asks: ['length ~4:00', 'width =1920', 'height =1080', 'fps =24', 'channels 2', 'vcodec h264'],
  },
  {
    text: 'Any questions, come to room 3 between 12:30 and 13:15. Bring your planner. Practise bars 20–35 for 15 minutes a day.',
    asks: [],
  },
  {
    text: 'The gallery trip leaves at 9:15 sharp. Cost: 12 euros. Sketch at least three works, A5 or larger.',
    asks: [],
  },
  {
    text: 'Collage: photograph all 6 stages. Hand in 6 images, portrait orientation, at most 1600 px high.',
    asks: ['count photo 6..6', 'held portrait', 'height ..1600'],
  },
  {
    text: 'Your video may not contain any cuts. It must have sound. It may not be shorter than 45 seconds. It may not be bigger than 90 MB.',
    asks: ['onetake', 'sound yes', 'length 0:45..', 'size ..90MB'],
  },
  {
    text: 'You may work alone or in pairs. If in pairs, write both names in the note. 1–2 min, mp4.',
    asks: ['who', 'length 1:00..2:00', 'format mp4'],
  },
  {
    text: "It'd be great if you could film in 4K, but 1080p is the minimum.",
    asks: ['lines =2160?', 'lines 1080..'],
  },
  {
    text: 'Voice memo, 60 sec. max., m4a or mp3, < 3 MB, filename: surname_poem',
    asks: ['length ..1:00', 'format m4a|mp3', 'size ..3MB', 'name surname_poem'],
  },
  {
    text: 'Videos must be uploaded as MP4s and photos as PNGs. Videos: 200 MB max. Photos: 10 MB max. Videos should be 16:9.',
    asks: ['format mp4', 'format png', 'size ..200MB [video]', 'size ..10MB [photo]', 'aspect 16:9'],
  },
  {
    text: 'Hand in one photograph or one short film of no more than 60 seconds.',
    asks: ['count photo 1..1 @a', 'count video 1..1 @b', 'length ..1:00'],
  },
  {
    text: 'The video needs to be long enough to show the whole routine but at the same time not longer than 2.5 minutes.',
    asks: ['length ..2:30'],
  },
  {
    text: 'Quality matters: film in HD or better, no shaking, no talking over it. 250 megabytes is the most the system can handle.',
    asks: ['lines 720..', 'size ..250MB'],
  },
  {
    text: 'NO VIDEOS LONGER THAN 3 MINUTES. NO FILES OVER 150MB. NO LATE WORK.',
    asks: ['length ..3:00', 'size ..150MB', 'late no'],
  },
  {
    text: 'Please upload the audio (mono or stereo, I do not mind) of your speech. Two minutes, plus or minus ten seconds.',
    asks: ['length 1:50..2:10'],
  },
  {
    text: 'Record at home, quiet room, no clipping. Leave 1 second before and after. Three tracks: bass, chords, melody; each of them WAV.',
    asks: ['noclip', 'format wav'],
  },
  {
    text: 'Your submission is limited to 4 photographs. Captions of 50 words each.',
    asks: ['count photo 0..4'],
  },
  { text: 'Late hand-ins are possible until Monday but lose 10 %.', asks: ['late yes'] },
  {
    text: 'A quick reminder that the 20 second clip should be silent, filmed vertically, and must not show any faces.',
    asks: ['length =0:20', 'sound no', 'held portrait'],
    wishes: ['must not show any faces'],
  },
];
