import type { Schemas } from '../../api/client';
import { count } from '../../parts/figures';

type Found = Schemas['LookedOver']['selectors'][number];

/** What a selector finds on the pages as they were inspected, with the lines. */
export function SelectorsFound({ found }: { found: Found }) {
    const [first, ...others] = found.pages;
    if (!first) {
        return <p className="text-sm text-soft">No page that matches has been inspected yet, so nobody knows what this finds.</p>;
    }
    const different = others.filter((page) => page.found !== first.found);

    return (
        <div className="text-sm" data-found={found.field}>
            <p>
                <code className="font-mono">{found.selector}</code> {inWords(first.found)}{' '}
                <span className="text-soft">
                    on {first.url}
                    {others.length > 0 && different.length === 0 && `, and as many on ${count(others.length)} more`}
                </span>
            </p>
            <ul className="font-mono text-xs">
                {first.lines.map(({ line, brief }, i) => (
                    <li key={i} className="truncate" title={brief}>
                        <span className="inline-block w-9 pr-2 text-right text-soft">{line}</span>
                        {brief}
                    </li>
                ))}
            </ul>
            {different.map((page) => (
                <p key={page.url}>
                    {inWords(page.found)} <span className="text-soft">on {page.url}</span>
                </p>
            ))}
        </div>
    );
}

function inWords(found: number | null): string {
    if (found === null) {
        return 'can be told in a browser only';
    }

    return found > 1 ? `matches ${count(found)}: all of them change` : `matches ${found}`;
}
