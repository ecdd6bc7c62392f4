import { count, plural } from './figures';

interface Counted {
    state: 'current' | 'building' | 'rebuilding';
    done: number;
    total: number;
    error?: string | null;
}

/** Says that figures are being counted anew, and that those shown are the old ones; nothing where they are current. */
export function Counting({ counted, className = '' }: { counted: Counted; className?: string }) {
    if (counted.error) {
        return (
            <p role="alert" className={`text-broken ${className}`}>
                {counted.error}
            </p>
        );
    }
    if (counted.state === 'current') {
        return null;
    }

    return (
        <p role="status" className={`text-doubt-ink ${className}`}>
            Being counted anew; until then these are the old figures.
            {counted.total > 0 && (
                <>
                    {' '}
                    <progress className="mx-1 align-middle" value={counted.done} max={counted.total} />
                    {count(counted.done)} of {plural(counted.total, 'visitor')}
                </>
            )}
        </p>
    );
}
