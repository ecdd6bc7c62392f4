import { useCheckHosts } from '../api/sites';
import { Button } from '../parts/Button';
import { TextField } from '../parts/Field';
import type { FieldErrors } from '../parts/fieldErrors';

interface Props {
    hosts: string[];
    errors: FieldErrors;
    onChange: (hosts: string[]) => void;
}

/** The hosts of a site, one a line, and whether each answers. */
export function HostList({ hosts, errors, onChange }: Props) {
    const check = useCheckHosts();
    const typed = hosts.filter((host) => host.trim() !== '');
    const answers = check.variables && check.data ? new Map(check.variables.map((host, i) => [host, check.data[i]])) : new Map();

    return (
        <fieldset className="space-y-2">
            <legend className="mb-0.5 font-semibold">Hosts</legend>
            {hosts.map((host, i) => {
                const answer = answers.get(host);

                return (
                    <div key={i}>
                        <div className="flex items-start gap-2">
                            <div className="flex-1">
                                <TextField
                                    label={`Host ${i + 1}`}
                                    hideLabel
                                    className="font-mono"
                                    placeholder={i === 0 ? 'www.larkhollow.example' : 'another one, such as a booking host'}
                                    value={host}
                                    error={errors[`hosts.${i}`] ?? (i === 0 ? errors.hosts : undefined)}
                                    onChange={(event) => onChange(hosts.map((one, j) => (i === j ? event.target.value : one)))}
                                />
                            </div>
                            {hosts.length > 1 && (
                                <Button aria-label={`Remove host ${i + 1}`} onClick={() => onChange(hosts.filter((_, j) => j !== i))}>
                                    Remove
                                </Button>
                            )}
                        </div>
                        {answer && (
                            <p role="status" className={`mt-0.5 text-sm ${answer.answers ? 'text-holds' : 'text-broken'}`}>
                                {answer.words}
                            </p>
                        )}
                    </div>
                );
            })}
            <div className="flex flex-wrap items-center gap-3">
                {hosts.length < 20 && <Button onClick={() => onChange([...hosts, ''])}>Add another host</Button>}
                <Button disabled={typed.length === 0 || check.isPending} onClick={() => check.mutate(typed.slice(0, 5))}>
                    {check.isPending ? 'Asking…' : 'Do they answer?'}
                </Button>
            </div>
            {check.error && (
                <p role="alert" className="text-sm text-broken">
                    {check.error.message}
                </p>
            )}
            <p className="text-sm text-soft">
                Every host that visitors meet on the way, the main one first. Events from others are refused, and no page elsewhere is ever
                fetched.
            </p>
        </fieldset>
    );
}
