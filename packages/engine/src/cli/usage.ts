export class UsageError extends Error {
  override readonly name = 'UsageError';
}

export const usage = `Usage:
  apodix inspect FILE [--series FOLDER]
  apodix propose FILE [--limits LIMITS.json | --asks "MP4, at most 20 MB"] [--blank SHEET]
  apodix offers FILE (--limits LIMITS.json | --asks "…") [--recipe RECIPE.json] [--report REPORT.json]
  apodix make FILE (--limits LIMITS.json | --asks "…") [--recipe RECIPE.json] --out FOLDER
              [--sound RECORDING] [--then TAKE]… [--blank SHEET] [--slot SLOT] [--report REPORT.json]
  apodix prove MADE --source TAKE [--then TAKE]… [--recipe RECIPE.json] (--limits LIMITS.json | --asks "…")
  apodix prove FILE (--limits LIMITS.json | --asks "…")
  apodix suggest FILE [--subject music|drama|pe]
  apodix align PICTURE SOUND
  apodix merge PHOTO PHOTO [PHOTO] --out FOLDER
  apodix verify RECEIPT.json [--key SCHOOL-KEY.pem] [FILE…]
  apodix read-limits (FILE | -) [--now 2026-11-24T09:00]

JSON goes to standard output, progress to standard error.
Exit codes: 0 every must met (of prove with --source: every row of the proof too) · 1 a must falls short ·
2 wrong usage · 3 the input was refused · 4 the limits cannot be met · 5 of prove, verify,
suggest and align: a person has to look or listen.`;
