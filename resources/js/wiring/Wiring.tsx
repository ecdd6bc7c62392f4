import { useState } from 'react';
import { useSite } from '../api/queries';
import { useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { Waiting } from '../parts/Waiting';

/** The snippet of the site, and how it goes onto a page. */
export function Wiring() {
    const site = useSite(useSiteKey());

    return (
        <Waiting query={site}>
            {({ key, hosts, snippet }) => (
                <div className="mx-auto max-w-5xl p-6">
                    <h1 className="text-xl font-semibold">The snippet</h1>
                    <p className="mt-1 max-w-3xl">
                        One piece of code for every page of{' '}
                        {hosts.map((host) => (
                            <code key={host} className="font-mono text-sm">
                                {host}
                            </code>
                        ))}
                        . Put it into the <code className="font-mono text-sm">&lt;head&gt;</code>, before other scripts, so that a change is
                        made before it can be seen.
                    </p>
                    <Copyable text={snippet} />
                    <h2 className="mt-8 mb-2 font-semibold">What it does</h2>
                    <dl className="grid gap-x-6 gap-y-2 border-y border-line py-3 sm:grid-cols-[16rem_1fr]">
                        <dt className="font-mono text-sm">data-pellix="{key}"</dt>
                        <dd>The site key. It tells whose pages these are; it is no secret.</dd>
                        <dt className="font-mono text-sm">window.pellix = …</dt>
                        <dd>
                            Keeps calls such as <code className="font-mono text-sm">pellix('event', 'brochure_opened')</code> until the
                            runtime has come.
                        </dd>
                        <dt className="font-mono text-sm">script.async = true</dt>
                        <dd>The page never waits for Pellix. If Pellix cannot be reached, nothing happens.</dd>
                        <dt className="font-mono text-sm">script.src = …</dt>
                        <dd>One file: the runtime, and the experiments that are running now.</dd>
                        <dt className="font-mono text-sm">script.onerror = …</dt>
                        <dd>Shows the page at once if that file cannot be loaded and a flicker guard hides the page.</dd>
                    </dl>
                    <h2 className="mt-8 mb-2 font-semibold">Is it there?</h2>
                    <p className="max-w-3xl">
                        Open a page that carries the snippet, then look at the Snippet link of an experiment on that page: it holds as soon
                        as the page has sent its first page view.
                    </p>
                </div>
            )}
        </Waiting>
    );
}

function Copyable({ text }: { text: string }) {
    const [copied, setCopied] = useState('');
    const copy = async (): Promise<void> => {
        try {
            await navigator.clipboard.writeText(text);
            setCopied('Copied');
        } catch {
            setCopied('The browser did not allow it: select the text and copy it yourself');
        }
    };

    return (
        <figure className="mt-4 border border-line bg-leaf">
            <pre className="overflow-x-auto p-4 font-mono text-sm leading-6" tabIndex={0} aria-label="Snippet">
                {text}
            </pre>
            <figcaption className="flex items-center gap-4 border-t border-line px-4 py-2">
                <Button look="main" onClick={copy}>
                    Copy the snippet
                </Button>
                <span role="status">{copied}</span>
            </figcaption>
        </figure>
    );
}
