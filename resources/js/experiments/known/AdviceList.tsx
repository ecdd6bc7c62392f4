import type { Schemas } from '../../api/client';

type Advice = Schemas['Advice'];

const LOOKS: Record<Schemas['AdviceSeverity'], string> = {
    missing: 'border-broken',
    doubt: 'border-doubt',
    note: 'border-line',
};
const WORDS: Record<Schemas['AdviceSeverity'], string> = { missing: 'Missing', doubt: 'Doubtful', note: 'Note' };

/** What is worth a second look, each with its reason. */
export function AdviceList({ advice }: { advice: Advice[] }) {
    return advice.map((one) => (
        <p key={`${one.code} ${one.field}`} data-advice={one.code} className={`my-1 border-l-3 pl-2 text-sm ${LOOKS[one.severity]}`}>
            <span className="font-semibold">{WORDS[one.severity]}:</span> {one.words}
        </p>
    ));
}

/** The advice on a field, or on one of its parts. */
export function adviceOn(all: Advice[], ...fields: string[]): Advice[] {
    return all.filter(({ field }) => fields.some((one) => field === one || field.startsWith(`${one}.`)));
}
