import { useState, type FormEvent } from 'react';
import { Link, useLocation, useNavigate } from 'react-router';
import { useBegin, useMakeFirst } from '../api/sites';
import { Problem } from '../api/client';
import { Door } from '../app/Door';
import { EmailField } from '../app/EmailField';
import { NewPassword } from '../app/NewPassword';
import { Button } from '../parts/Button';
import { TextField } from '../parts/Field';
import { FormProblem } from '../parts/FormProblem';
import { useTitle } from '../parts/useTitle';
import { Waiting } from '../parts/Waiting';

/** The first account of an empty copy. The code stands behind the `#`, where no server writes it into a log. */
export function Begin() {
    const begin = useBegin();
    const make = useMakeFirst();
    const navigate = useNavigate();
    const fromLink = useLocation().hash.slice(1);
    const [draft, setDraft] = useState({ code: fromLink, name: '', email: '', password: '' });
    const problem = make.error instanceof Problem ? make.error : null;
    const set = (change: Partial<typeof draft>): void => setDraft({ ...draft, ...change });
    useTitle('Begin');
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        make.mutate(draft, { onSuccess: () => navigate('/new-site', { replace: true }) });
    };

    return (
        <Door>
            <h2 className="mb-3 text-lg font-semibold">Your account</h2>
            <Waiting query={begin}>
                {({ awaited }) =>
                    awaited ? (
                        <form onSubmit={submit} className="space-y-3" noValidate>
                            <p className="text-soft">Yours is the first on this copy. The next thing is your first site.</p>
                            {(fromLink === '' || problem?.errors.code) && (
                                <TextField
                                    label="Code from the link that the start command printed"
                                    className="font-mono"
                                    value={draft.code}
                                    error={problem?.errors.code?.[0]}
                                    onChange={(event) => set({ code: event.target.value })}
                                />
                            )}
                            <TextField
                                label="Your name"
                                name="name"
                                autoComplete="name"
                                autoFocus
                                value={draft.name}
                                error={problem?.errors.name?.[0]}
                                onChange={(event) => set({ name: event.target.value })}
                            />
                            <EmailField value={draft.email} error={problem?.errors.email?.[0]} onChange={(email) => set({ email })} />
                            <NewPassword
                                label="Password"
                                value={draft.password}
                                error={problem?.errors.password?.[0]}
                                onChange={(password) => set({ password })}
                            />
                            <FormProblem problem={problem} />
                            <Button type="submit" look="main" disabled={make.isPending}>
                                Make the account
                            </Button>
                        </form>
                    ) : (
                        <p>
                            This copy has people already.{' '}
                            <Link to="/sign-in" className="text-accent underline underline-offset-4">
                                Sign in
                            </Link>
                            , or ask one of them to invite you.
                        </p>
                    )
                }
            </Waiting>
        </Door>
    );
}
