import { useState, type FormEvent } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { Problem } from '../api/client';
import { useSignIn } from '../api/queries';
import { Button } from '../parts/Button';
import { TextField } from '../parts/Field';
import { FormProblem } from '../parts/FormProblem';
import { StateMark } from '../parts/StateMark';

export function SignIn() {
    const [email, setEmail] = useState('');
    const [password, setPassword] = useState('');
    const [params] = useSearchParams();
    const navigate = useNavigate();
    const signIn = useSignIn();
    const problem = signIn.error instanceof Problem ? signIn.error : null;

    const submit = (event: FormEvent): void => {
        event.preventDefault();
        const to = params.get('to') ?? '/';
        // Only paths of our own: an address from outside must not send people elsewhere.
        signIn.mutate({ email, password }, { onSuccess: () => navigate(/^\/(?!\/|\\)/.test(to) ? to : '/', { replace: true }) });
    };

    return (
        <main className="grid min-h-screen place-items-center p-4">
            <div className="grid w-full max-w-3xl border border-line bg-leaf md:grid-cols-2">
                <section className="border-line p-8 max-md:border-b md:border-r">
                    <h1 className="flex items-center gap-3 text-2xl font-semibold">
                        <img src="/favicon.svg" alt="" width="28" height="28" /> Pellix
                    </h1>
                    <p className="mt-4">
                        What was declared, beside what was observed. Seven links from the page to the data, and nothing called working
                        without evidence.
                    </p>
                    <ul className="mt-6 space-y-1.5 text-sm text-soft">
                        <li className="flex items-center gap-2">
                            <StateMark state="holds" /> holds: there is evidence, and it is fresh
                        </li>
                        <li className="flex items-center gap-2">
                            <StateMark state="doubt" /> doubt: the evidence is thin or odd
                        </li>
                        <li className="flex items-center gap-2">
                            <StateMark state="broken" /> broken: the evidence speaks against it
                        </li>
                        <li className="flex items-center gap-2">
                            <StateMark state="unseen" /> unseen: nothing was observed yet
                        </li>
                        <li className="flex items-center gap-2">
                            <StateMark state="stale" /> stale: the evidence has grown old
                        </li>
                    </ul>
                </section>
                <form onSubmit={submit} className="space-y-4 p-8" noValidate>
                    <TextField
                        label="E-mail address"
                        type="email"
                        name="email"
                        autoComplete="username"
                        autoFocus
                        value={email}
                        error={problem?.errors.email?.[0]}
                        onChange={(event) => setEmail(event.target.value)}
                    />
                    <TextField
                        label="Password"
                        type="password"
                        name="password"
                        autoComplete="current-password"
                        value={password}
                        error={problem?.errors.password?.[0]}
                        onChange={(event) => setPassword(event.target.value)}
                    />
                    <FormProblem
                        problem={problem}
                        words={problem?.status === 429 ? 'Too many tries in a minute. Wait a minute, then try again.' : undefined}
                    />
                    <Button type="submit" look="main" disabled={signIn.isPending}>
                        Sign in
                    </Button>
                </form>
            </div>
        </main>
    );
}
