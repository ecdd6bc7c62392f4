import type { Wish } from '../api/notices';
import { Choice } from '../parts/Choice';
import { WISHES } from '../parts/vocabulary';

const OPTIONS = Object.entries(WISHES).map(([value, label]) => ({ value: value as Wish, label }));

/** Of which troubles somebody, or an address, is told. */
export const WishChoice = ({ label, value, onChange }: { label: string; value: Wish; onChange: (value: Wish) => void }) => (
    <Choice label={label} value={value} options={OPTIONS} onChange={onChange} />
);

export const wishWords = (wish: Wish): string => WISHES[wish];
