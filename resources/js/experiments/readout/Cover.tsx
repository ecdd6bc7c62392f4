import { useState } from 'react';
import { Problem, type Experiment, type Site } from '../../api/client';
import { useCover, type ReadReadout } from '../../api/readout';
import { Button } from '../../parts/Button';
import { fieldErrors } from '../../parts/fieldErrors';
import { TextField } from '../../parts/Field';
import { FormProblem } from '../../parts/FormProblem';
import { Moment } from '../../parts/Moment';

interface Props {
    site: Site;
    experiment: Experiment;
    known: ReadReadout;
    mayWork: boolean;
}

/** In the place of the figures, while something blocks. */
export function Cover({ site, experiment, known, mayWork }: Props) {
    const cover = useCover(site.key, experiment.key);
    const [reason, setReason] = useState('');

    return (
        <section aria-label="Cover" className="mt-3 border border-broken bg-leaf px-4 py-3">
            <h2 className="font-semibold">The figures are covered</h2>
            <p>
                Something blocks: figures of this data would point anywhere. Mend it, or explain the finding where it is not what it seems.
            </p>
            {mayWork && (
                <form
                    className="mt-2 flex flex-wrap items-start gap-3"
                    onSubmit={(event) => {
                        event.preventDefault();
                        cover.mutate(reason);
                    }}
                >
                    <div className="min-w-64 flex-1">
                        <TextField
                            label="Why they are to be shown all the same"
                            note="It stays on this page and in every file."
                            value={reason}
                            maxLength={500}
                            error={fieldErrors(cover.error).reason}
                            onChange={(event) => setReason(event.target.value)}
                        />
                    </div>
                    <Button type="submit" look="danger" className="mt-6.5" disabled={cover.isPending}>
                        Lift the cover
                    </Button>
                </form>
            )}
            <FormProblem problem={cover.error instanceof Problem ? cover.error : null} />
            {known.lifts.length > 0 && (
                <ul className="mt-2 text-sm text-soft">
                    {known.lifts.map((one) => (
                        <li key={one.at}>
                            Lifted by {one.by} <Moment at={one.at} />: “{one.reason}”; put back by {one.put_back_by ?? 'nobody'}{' '}
                            {one.put_back_at && <Moment at={one.put_back_at} />}
                        </li>
                    ))}
                </ul>
            )}
        </section>
    );
}

/** That the cover was lifted, by whom and why. */
export function Lifted({ site, experiment, known, mayWork }: Props) {
    const cover = useCover(site.key, experiment.key);
    const now = known.lifts.find(({ put_back_at }) => put_back_at === null);

    return now ? (
        <p className="mt-2 flex flex-wrap items-center gap-3 border-l-3 border-broken pl-2" data-figure="lifted">
            <span>
                The data is not fit, and {now.by} has lifted the cover <Moment at={now.at} />: “{now.reason}”
            </span>
            {mayWork && (
                <Button disabled={cover.isPending} onClick={() => cover.mutate(null)}>
                    Put it back
                </Button>
            )}
        </p>
    ) : null;
}
