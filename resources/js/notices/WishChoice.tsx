import type { Wish } from '../api/notices';
import { Choice } from '../parts/Choice';

const WISHES: { value: Wish; label: string }[] = [
    { value: 'blockers', label: 'Blockers: what spoils the data' },
    { value: 'everything', label: 'Every trouble' },
    { value: 'nothing', label: 'No trouble' },
];

/** Of which troubles somebody, or an address, is told. */
export const WishChoice = ({ label, value, onChange }: { label: string; value: Wish; onChange: (value: Wish) => void }) => (
    <Choice label={label} value={value} options={WISHES} onChange={onChange} />
);

export const wishWords = (wish: Wish): string => WISHES.find(({ value }) => value === wish)?.label ?? wish;
