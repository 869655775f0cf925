/** One row a fault that a person may meet: HTTP status, what happened in plain words, what to do next. */
export interface FaultRow {
  readonly httpStatus: number;
  readonly message: string;
  readonly next: string;
}

const rows = {
  EMPTY_FILE: {
    httpStatus: 422,
    message: 'This file has nothing in it: 0 bytes.',
    next: 'Copy it from the phone or camera again and bring in the new copy.',
  },
  NOT_MEDIA: {
    httpStatus: 422,
    message: 'This is not a recording or a photograph.',
    next: 'Choose a video, a sound recording or a photograph.',
  },
  TEXT_NOT_MEDIA: {
    httpStatus: 422,
    message: 'This file holds text, whatever its name says.',
    next: 'Choose the recording itself.',
  },
  NOTHING_TO_READ: {
    httpStatus: 422,
    message: 'No printed words were found in this picture.',
    next: 'Photograph the sheet from straight above in good light. Handwriting cannot be read: type it in.',
  },
  NOT_PAPER: {
    httpStatus: 422,
    message: 'This is not a page that can be read.',
    next: 'Choose a PDF, a photograph or a scan of the sheet: JPEG, PNG, HEIC or TIFF.',
  },
  PLAYLIST_NOT_MEDIA: {
    httpStatus: 422,
    message: 'This is a list that points to other files, not a recording. Apodix does not follow such lists.',
    next: 'Choose the recording itself.',
  },
  FORMAT_NOT_READ: {
    httpStatus: 422,
    message: 'Apodix does not read this kind of file.',
    next: 'Export it as MP4, MOV, WebM, JPEG, PNG or HEIC and bring that in.',
  },
  TRUNCATED: {
    httpStatus: 422,
    message: 'This recording is cut off: a part that is needed to play it is missing.',
    next: 'Copy it from the phone or camera again, and wait until the copy has finished.',
  },
  DAMAGED: {
    httpStatus: 422,
    message: 'This file is damaged and cannot be read to its end.',
    next: 'Copy it from the phone or camera again.',
  },
  LOCKED: {
    httpStatus: 422,
    message: 'This document is locked with a password.',
    next: 'Save it without a password and bring that in.',
  },
  TOO_MANY_PIXELS: {
    httpStatus: 422,
    message: 'This picture unpacks to more than 200 million points, which is more than Apodix opens.',
    next: 'Save it at a smaller size and bring that in.',
  },
  TOO_LONG: {
    httpStatus: 422,
    message: 'This recording is longer than 6 hours.',
    next: 'Cut out the part that you need first.',
  },
  TOO_HEAVY: {
    httpStatus: 422,
    message: 'Reading this file took more time or memory than is allowed.',
    next: 'Export it again at a smaller size and bring that in.',
  },
  MISSING_PICTURE: {
    httpStatus: 422,
    message: 'This recording has sound but no picture, and the assignment wants a video.',
    next: 'Bring in the video.',
  },
  MISSING_SOUND: {
    httpStatus: 422,
    message: 'This recording has no sound, and the assignment wants sound.',
    next: 'Check the microphone and record again.',
  },
  UPLOAD_TOO_LARGE: {
    httpStatus: 413,
    message: 'This file is larger than Apodix takes in.',
    next: 'Trim it on the phone first, or ask for the ceiling to be raised.',
  },
  NO_DISK_SPACE: {
    httpStatus: 507,
    message: 'There is no room left on the disk. Nothing was lost.',
    next: 'Make room, then try again.',
  },
  NOT_SIGNED_IN: {
    httpStatus: 401,
    message: 'You are not signed in.',
    next: 'Choose who you are and try again.',
  },
  NOT_ALLOWED: { httpStatus: 403, message: 'This is not yours to open.', next: 'Go back to Today.' },
  FOREIGN_ORIGIN: {
    httpStatus: 403,
    message: 'This request came from another site and was not carried out.',
    next: 'Open Apodix itself and try again.',
  },
  NOT_FOUND: { httpStatus: 404, message: 'There is nothing here.', next: 'Go back to Today.' },
  BAD_REQUEST: {
    httpStatus: 400,
    message: 'The request does not have the form that is needed.',
    next: 'Reload the page and try again.',
  },
  CHANGED_MEANWHILE: {
    httpStatus: 409,
    message: 'This was changed in another window meanwhile.',
    next: 'Reload the page; both versions are kept.',
  },
  LIMITS_CANNOT_BE_MET: {
    httpStatus: 422,
    message: 'This take cannot meet the limits.',
    next: 'See what would be possible.',
  },
  NOT_READY: {
    httpStatus: 409,
    message: 'The parcel is not complete yet.',
    next: 'See what is still missing in Hand in.',
  },
  NO_ATTEMPTS_LEFT: {
    httpStatus: 409,
    message: 'All attempts have been used.',
    next: 'Ask your teacher for another one.',
  },
  IN_USE: {
    httpStatus: 409,
    message: 'This is part of something that was handed in and is kept as it is.',
    next: 'Bring in another take instead.',
  },
  JOB_LOST: {
    httpStatus: 500,
    message: 'The work was interrupted three times and was given up. The recording is safe.',
    next: 'Try again; if it fails again, try a shorter piece.',
  },
  TOOL_MISSING: {
    httpStatus: 500,
    message: 'A program that Apodix works with is not on this computer.',
    next: 'Ask whoever runs Apodix to install it; docs/settings.md names them.',
  },
  MAKE_FAILED: {
    httpStatus: 500,
    message: 'The file could not be made. The recording is safe.',
    next: 'Try again; if it fails again, bring the recording in once more.',
  },
  PROOF_FAILED: {
    httpStatus: 500,
    message: 'The made file did not pass its own check and was thrown away. The recording is safe.',
    next: 'Make it again.',
  },
  CANCELLED: { httpStatus: 409, message: 'Stopped, as you asked.', next: 'Start again whenever you like.' },
  DELIVERY_REFUSED: {
    httpStatus: 502,
    message: 'The course site refused the hand-in.',
    next: 'Read its reason below, put it right and hand in again.',
  },
  DELIVERY_FAILED: {
    httpStatus: 502,
    message: 'The course site could not be reached. It is not handed in yet.',
    next: 'Try again. Nothing has to be made anew.',
  },
  DELIVERY_UNCERTAIN: {
    httpStatus: 502,
    message: 'The course site does not answer, so it is not known yet whether it has everything.',
    next: 'Apodix asks again by itself until it knows.',
  },
  BAD_RECEIPT: {
    httpStatus: 422,
    message: 'This is not a receipt of Apodix.',
    next: 'Choose the JSON file that was saved as the receipt.',
  },
  BAD_KEY: {
    httpStatus: 422,
    message: 'This is not a public key.',
    next: 'Save the school’s key from its page in Apodix and choose that file.',
  },
  SITE_SILENT: {
    httpStatus: 502,
    message: 'The course site does not answer just now. Nothing has changed.',
    next: 'Try again in a moment.',
  },
  CHECK_BEGUN: {
    httpStatus: 409,
    message: 'Your teacher has begun to check it, so it cannot be taken back any more.',
    next: 'Ask your teacher, or hand in again if another attempt is left.',
  },
  QUOTA_FULL: {
    httpStatus: 413,
    message: 'There is no room left for it among your recordings.',
    next: 'Remove takes that you need no longer, and bring it in again.',
  },
  ARRIVED_CHANGED: {
    httpStatus: 460,
    message: 'What arrived is not what was sent: a byte was changed on the way. It was thrown away.',
    next: 'Send it again. The file on your device is as it was.',
  },
  PHONE_LINK_ENDED: {
    httpStatus: 410,
    message: 'This code has been used or has run out.',
    next: 'Ask for a new code on the computer and scan that.',
  },
  CARD_UNKNOWN: {
    httpStatus: 404,
    message: 'This card is not known here, or it has been withdrawn.',
    next: 'Ask your teacher for a new card.',
  },
  NOTE_NOT_HEARD: {
    httpStatus: 422,
    message: 'This is not a spoken note of at most a minute.',
    next: 'Record the note again.',
  },
  TOO_MANY_REQUESTS: {
    httpStatus: 429,
    message: 'Too many requests in a short time.',
    next: 'Wait a minute and try again.',
  },
  UNEXPECTED: {
    httpStatus: 500,
    message: 'Something went wrong in Apodix. Nothing was lost.',
    next: 'Try again.',
  },
} satisfies Record<string, FaultRow>;

export type FaultCode = keyof typeof rows;
export const faultCatalogue: Readonly<Record<FaultCode, FaultRow>> = rows;

/**
 * A fault from the catalogue. `detail` adds what is special about this case; it never holds another person's
 * data.
 */
export class ApodixError extends Error {
  readonly code: FaultCode;
  readonly detail: string | undefined;

  constructor(code: FaultCode, options: { detail?: string; cause?: unknown } = {}) {
    super(faultCatalogue[code].message, options.cause === undefined ? undefined : { cause: options.cause });
    this.name = 'ApodixError';
    this.code = code;
    this.detail = options.detail;
  }

  toJSON(): { code: FaultCode; message: string; next: string; detail?: string } {
    const { message, next } = faultCatalogue[this.code];
    return { code: this.code, message, next, ...(this.detail === undefined ? {} : { detail: this.detail }) };
  }
}

export function isFaultCode(value: unknown): value is FaultCode {
  return typeof value === 'string' && Object.hasOwn(rows, value);
}
