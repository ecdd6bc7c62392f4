import { useState } from 'react';
import { useKeepScript, useScript, type RehearsalScript } from '../api/rehearsals';
import { Button } from '../parts/Button';
import { Moment } from '../parts/Moment';
import { Waiting } from '../parts/Waiting';
import { Problem } from '../api/client';

/** The steps that a rehearsal walks: as they follow from the experiment, or as somebody has written them. */
export function ScriptSteps({ site, experiment, mayWrite }: { site: string; experiment: string; mayWrite: boolean }) {
    const script = useScript(site, experiment);
    const [text, setText] = useState<string | null>(null);

    return (
        <section aria-label="Script">
            <h3 className="mb-2 font-semibold">Script</h3>
            <Waiting query={script}>
                {(kept) => (
                    <div className="border border-line bg-leaf p-3">
                        <p className="text-sm text-soft">
                            {kept.written ? (
                                <>
                                    Written by {kept.by}, <Moment at={kept.at ?? ''} />.
                                </>
                            ) : (
                                'It follows from the experiment, and from the ways that recorded visits took.'
                            )}
                        </p>
                        {text === null ? (
                            <>
                                <ol className="my-2 list-decimal pl-6">
                                    {kept.steps.map((step, i) => (
                                        <li key={i} className="break-words">
                                            {step}
                                        </li>
                                    ))}
                                </ol>
                                {mayWrite && (
                                    <Button onClick={() => setText(JSON.stringify(kept.script, null, 2))}>Write the script…</Button>
                                )}
                            </>
                        ) : (
                            <Writing
                                site={site}
                                experiment={experiment}
                                text={text}
                                written={kept.written}
                                onText={setText}
                                onDone={() => setText(null)}
                            />
                        )}
                    </div>
                )}
            </Waiting>
        </section>
    );
}

interface WritingProps {
    site: string;
    experiment: string;
    text: string;
    written: boolean;
    onText: (text: string) => void;
    onDone: () => void;
}

function Writing({ site, experiment, text, written, onText, onDone }: WritingProps) {
    const keep = useKeepScript(site, experiment);
    const [wrong, setWrong] = useState('');
    const problems = keep.error instanceof Problem ? Object.entries(keep.error.errors) : [];
    const send = (): void => {
        try {
            setWrong('');
            keep.mutate(JSON.parse(text) as RehearsalScript, { onSuccess: onDone });
        } catch (error) {
            setWrong(`This is no JSON: ${(error as Error).message}`);
        }
    };

    return (
        <div className="mt-2 space-y-2">
            <label className="block text-sm" htmlFor="script-text">
                Steps, as docs/formats.md describes them
            </label>
            <textarea
                id="script-text"
                className="h-80 w-full border border-line p-2 font-mono text-xs"
                spellCheck={false}
                value={text}
                onChange={(event) => onText(event.target.value)}
            />
            {(wrong || keep.error) && (
                <div role="alert" className="text-broken">
                    {wrong}
                    {problems.map(([field, messages]) => (
                        <p key={field}>
                            {field.replace(/steps\.(\d+)/, (_, n: string) => `step ${Number(n) + 1}`)}: {messages[0]}
                        </p>
                    ))}
                    {keep.error && problems.length === 0 && <p>{keep.error.message}</p>}
                </div>
            )}
            <div className="flex flex-wrap gap-2">
                <Button look="main" disabled={keep.isPending} onClick={send}>
                    Keep the script
                </Button>
                <Button onClick={onDone}>Leave it</Button>
                {written && (
                    <Button disabled={keep.isPending} onClick={() => keep.mutate(null, { onSuccess: onDone })}>
                        Have it follow from the experiment
                    </Button>
                )}
            </div>
        </div>
    );
}
