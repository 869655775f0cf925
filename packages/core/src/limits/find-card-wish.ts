/** Words before other pictures that somebody may ask for, by what they are called. */
const CARD =
  /\b(?:opening|title|start(?:ing)?|intro(?:ductory)?)[- ](?:card|slate|slide|page|screen|frame)s?\b/i;
const NONE = /\b(?:no|not|without|don't|doesn't|never|instead of|neither)\b[^.!?;]*$/i;

/** Whether an assignment asks for an opening card: it names one, in a clause that does not say "no". */
export function isCardWished(instructions: string): boolean {
  return instructions.split(/(?<=[.!?;\n])/).some((clause) => {
    const found = CARD.exec(clause);
    return found !== null && !NONE.test(clause.slice(0, found.index).replaceAll('’', "'"));
  });
}
