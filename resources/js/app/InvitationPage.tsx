import { useState, type FormEvent } from 'react';
import { Link, useLocation, useNavigate, useParams } from 'react-router';
import { useAccept, useInvitation } from '../api/account';
import { Problem } from '../api/client';
import { useSession, useSignOut } from '../api/queries';
import { Button } from '../parts/Button';
import { TextField } from '../parts/Field';
import { FormProblem } from '../parts/FormProblem';
import { useTitle } from '../parts/useTitle';
import { Waiting } from '../parts/Waiting';
import { rightWords } from '../people/rights';
import { Door } from './Door';
import { NewPassword } from './NewPassword';

/** What an invitation asks, and what is needed to accept it. */
export function InvitationPage() {
    const { token = '' } = useParams();
    const { pathname } = useLocation();
    const invitation = useInvitation(token);
    const session = useSession();
    const signOut = useSignOut();
    const accept = useAccept(token);
    const navigate = useNavigate();
    const [name, setName] = useState('');
    const [password, setPassword] = useState('');
    const problem = accept.error instanceof Problem ? accept.error : null;
    useTitle('Invitation');
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        accept.mutate(session.data ? {} : { name, password }, { onSuccess: () => navigate('/', { replace: true }) });
    };

    return (
        <Door>
            <h2 className="mb-3 text-lg font-semibold">An invitation</h2>
            <Waiting query={invitation}>
                {(asked) => (
                    <form onSubmit={submit} className="space-y-4" noValidate>
                        <p>
                            {asked.author} asks <strong>{asked.email}</strong> to look after <strong>{asked.site}</strong>: to{' '}
                            {rightWords(asked.right)}.
                        </p>
                        {session.data && session.data.email !== asked.email ? (
                            <>
                                <p>You are signed in as {session.data.email}, for whom it is not.</p>
                                <Button onClick={() => signOut.mutate()}>Sign out</Button>
                            </>
                        ) : session.data || !asked.has_account ? (
                            <>
                                {!session.data && (
                                    <>
                                        <TextField
                                            label="Your name"
                                            name="name"
                                            autoComplete="name"
                                            autoFocus
                                            value={name}
                                            error={problem?.errors.name?.[0]}
                                            onChange={(event) => setName(event.target.value)}
                                        />
                                        <NewPassword
                                            label="Password"
                                            value={password}
                                            error={problem?.errors.password?.[0]}
                                            onChange={setPassword}
                                        />
                                    </>
                                )}
                                {problem?.errors.email?.[0] && (
                                    <p role="alert" className="text-broken">
                                        {problem.errors.email[0]}
                                    </p>
                                )}
                                <FormProblem problem={problem} />
                                <Button type="submit" look="main" disabled={accept.isPending}>
                                    Accept
                                </Button>
                            </>
                        ) : (
                            <p>
                                There is an account of this address.{' '}
                                <Link
                                    to={`/sign-in?to=${encodeURIComponent(pathname)}`}
                                    className="text-accent underline underline-offset-4"
                                >
                                    Sign in with it
                                </Link>
                                , and you come back here.
                            </p>
                        )}
                    </form>
                )}
            </Waiting>
        </Door>
    );
}
