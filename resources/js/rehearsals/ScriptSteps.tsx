import { useState } from 'react';
import type { Experiment } from '../api/client';
import { useScript, type RehearsalReport } from '../api/rehearsals';
import { Button } from '../parts/Button';
import { Moment } from '../parts/Moment';
import { Waiting } from '../parts/Waiting';
import { ScriptForm } from './script/ScriptForm';

interface Props {
    site: string;
    experiment: Experiment;
    /** The rehearsal whose pictures elements are chosen on. */
    report: RehearsalReport | undefined;
    mayWrite: boolean;
}

/** The steps that a rehearsal walks: as they follow from the experiment, or as somebody has written them. */
export function ScriptSteps({ site, experiment, report, mayWrite }: Props) {
    const script = useScript(site, experiment.key);
    const [writing, setWriting] = useState(false);

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
                        {writing ? (
                            <ScriptForm
                                {...{ site, experiment, report }}
                                script={kept.script}
                                written={kept.written}
                                onDone={() => setWriting(false)}
                            />
                        ) : (
                            <>
                                <ol className="my-2 list-decimal pl-6">
                                    {kept.steps.map((step, i) => (
                                        <li key={i} className="break-words">
                                            {step}
                                        </li>
                                    ))}
                                </ol>
                                {mayWrite && <Button onClick={() => setWriting(true)}>Write the script…</Button>}
                            </>
                        )}
                    </div>
                )}
            </Waiting>
        </section>
    );
}
