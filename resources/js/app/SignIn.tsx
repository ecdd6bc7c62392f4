import { useState, type FormEvent } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { useSignIn, useSignInCode, useSignInWays } from '../api/account';
import { Problem } from '../api/client';
import { Button } from '../parts/Button';
import { TextField } from '../parts/Field';
import { FormProblem } from '../parts/FormProblem';
import { useTitle } from '../parts/useTitle';
import { Door } from './Door';
import { EmailField } from './EmailField';

/** What is said of a single sign-on that let nobody in. */
const PROBLEMS: Record<string, string> = {
    expired: 'That sign-in took too long, or began in another browser. Begin again.',
    refused: 'The other side let nobody in. Try again, or sign in with your password.',
    provider: 'The answer of the other side could not be trusted. Tell whoever runs this copy; the security log says why.',
    unknown: 'You were let in there, but nobody here has that account. Ask for an invitation, and accept it with a password first.',
};

/** E-mail address and password, and a one-time code where the account has them. */
export function SignIn() {
    const [email, setEmail] = useState('');
    const [password, setPassword] = useState('');
    const [params] = useSearchParams();
    const navigate = useNavigate();
    const signIn = useSignIn();
    const problem = signIn.error instanceof Problem ? signIn.error : null;
    const other = useSignInWays().data?.single_sign_on;
    const refused = PROBLEMS[params.get('problem') ?? ''];
    const needsCode = signIn.data !== undefined && 'needs' in signIn.data;
    useTitle('Sign in');

    const goOn = (): void => {
        const to = params.get('to') ?? '/';
        // Only paths of our own: an address from outside must not send people elsewhere.
        void navigate(/^\/(?!\/|\\)/.test(to) ? to : '/', { replace: true });
    };
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        signIn.mutate({ email, password }, { onSuccess: (answer) => !('needs' in answer) && goOn() });
    };

    return (
        <Door>
            {needsCode ? (
                <CodeStep onBack={signIn.reset} onDone={goOn} />
            ) : (
                <form onSubmit={submit} className="space-y-4" noValidate>
                    <EmailField value={email} error={problem?.errors.email?.[0]} autoFocus onChange={setEmail} />
                    <TextField
                        label="Password"
                        type="password"
                        name="password"
                        autoComplete="current-password"
                        value={password}
                        error={problem?.errors.password?.[0]}
                        onChange={(event) => setPassword(event.target.value)}
                    />
                    <FormProblem problem={problem} />
                    {refused && !problem && (
                        <p role="alert" className="text-broken">
                            {refused}
                        </p>
                    )}
                    <div className="flex items-center gap-5">
                        <Button type="submit" look="main" disabled={signIn.isPending}>
                            Sign in
                        </Button>
                        <Link to="/reset" className="text-accent underline underline-offset-4">
                            Password forgotten
                        </Link>
                    </div>
                    {other && (
                        <p className="border-t border-line pt-4">
                            <a
                                href={`/sign-in/with?to=${encodeURIComponent(params.get('to') ?? '/')}`}
                                className="text-accent underline underline-offset-4"
                            >
                                Sign in with {other}
                            </a>
                        </p>
                    )}
                </form>
            )}
        </Door>
    );
}

function CodeStep({ onBack, onDone }: { onBack: () => void; onDone: () => void }) {
    const [code, setCode] = useState('');
    const check = useSignInCode();
    const problem = check.error instanceof Problem ? check.error : null;
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        check.mutate({ code }, { onSuccess: onDone });
    };

    return (
        <form onSubmit={submit} className="space-y-4" noValidate>
            <TextField
                label="One-time code"
                name="code"
                autoComplete="one-time-code"
                autoFocus
                className="font-mono"
                value={code}
                error={problem?.errors.code?.[0]}
                note="Six digits from your authenticator. Without it, one of your recovery codes."
                onChange={(event) => setCode(event.target.value)}
            />
            <FormProblem problem={problem} />
            <div className="flex items-center gap-3">
                <Button type="submit" look="main" disabled={check.isPending}>
                    Sign in
                </Button>
                <Button onClick={onBack}>Back</Button>
            </div>
        </form>
    );
}
