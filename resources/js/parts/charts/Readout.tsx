/** What the point says that is looked at; it keeps its line, so that nothing jumps. */
export function Readout({ words, hint }: { words: string | null; hint: string }) {
    return (
        <p className="min-h-6 px-4 text-sm" aria-live="off">
            {words ?? <span className="text-soft">{hint}</span>}
        </p>
    );
}
