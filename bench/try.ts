import { measureReading } from './read-limits/measure-reading.ts';
import { READ_AT } from './read-limits/texts.ts';
import { sets } from './read-limits/all-texts.ts';
for (const [name, texts] of Object.entries(sets)) {
const r = measureReading(texts, READ_AT);
for (const f of r.faults) console.log(JSON.stringify(f.text.slice(0, 220)), '\n   missed', f.missed.join(' ; '), '\n   invented', f.invented.join(' ; '), '\n   wishes', f.wishes.join(' ; '));
console.log(name, r.precision.toFixed(3), r.recall.toFixed(3), r.wishesFound, r.wishesWanted, r.faults.length);
}
