<?php

namespace App\Console\Commands;

use App\Logbook\SecurityLog;
use App\Models\AccountLink;
use App\Models\User;
use App\SignIn\Codes;
use App\SignIn\Links;
use App\SignIn\SignIns;
use Carbon\CarbonImmutable;
use Illuminate\Console\Command;
use Pellix\Core\SignIn\AccountName;
use Pellix\Core\SignIn\SecurityMatter;

/** For whoever runs this copy, where no mail arrives, an authenticator is lost with all recovery codes, or somebody has to be kept out at once. */
class Account extends Command
{
    protected $signature = 'pellix:account {email} {--link : print a link with which a new password is set} {--codes-off : switch one-time codes off} {--deactivate : let them in nowhere} {--activate : let them in again} {--makes-sites : let them make sites} {--makes-no-sites : let them make no more}';

    protected $description = 'Helps somebody into their account, or keeps them out of it';

    public function handle(Codes $codes, SignIns $signIns, SecurityLog $log): int
    {
        $person = User::query()->where('email', AccountName::of((string) $this->argument('email')))->first();
        $asked = array_values(array_filter(['link', 'codes-off', 'deactivate', 'activate', 'makes-sites', 'makes-no-sites'], fn (string $one): bool => $this->option($one) === true));
        $problem = match (true) {
            $person === null => "No account has the address \"{$this->argument('email')}\".",
            $asked === [] => 'Say what to do: --link, --codes-off, --deactivate, --activate, --makes-sites or --makes-no-sites.',
            in_array('deactivate', $asked, true) && count($asked) > 1 => '--deactivate goes with nothing else.',
            default => null,
        };
        if ($person === null || $problem !== null) {
            $this->output->getErrorStyle()->writeln((string) $problem);

            return 2;
        }
        $now = CarbonImmutable::now('UTC');
        foreach ($asked as $what) {
            switch ($what) {
                case 'deactivate':
                    $person->forceFill(['deactivated_at' => $now])->save();
                    $log->note(SecurityMatter::AccessClosed, $person, note: 'The account, by whoever runs this copy');
                    $this->line("{$person->email} gets in nowhere any more; {$signIns->endOthers($person, null, $now)} sessions have ended.");
                    break;
                case 'activate':
                    $person->forceFill(['deactivated_at' => null])->save();
                    $log->note(SecurityMatter::AccessOpened, $person, note: 'The account, by whoever runs this copy');
                    $this->line("{$person->email} may sign in again.");
                    break;
                case 'codes-off':
                    $codes->switchOff($person);
                    $this->line("{$person->email} signs in with the password alone.");
                    break;
                case 'makes-sites':
                case 'makes-no-sites':
                    $person->forceFill(['makes_sites' => $what === 'makes-sites'])->save();
                    $log->note(SecurityMatter::RightChanged, $person, note: $what === 'makes-sites' ? 'May make sites, by whoever runs this copy' : 'May make no sites any more, by whoever runs this copy');
                    $this->line("{$person->email} may make ".($what === 'makes-sites' ? 'sites.' : 'no sites any more.'));
                    break;
                case 'link':
                    [, $token] = Links::make(['purpose' => AccountLink::RESET, 'user_id' => $person->id, 'email' => $person->email], $now, $now->addMinutes((int) config('signing_in.reset_minutes')));
                    $log->note(SecurityMatter::ResetAsked, $person, note: 'By whoever runs this copy');
                    $this->line('Good once, for '.config('signing_in.reset_minutes').' minutes: '.rtrim((string) config('app.url'), '/')."/reset/{$token}");
            }
        }

        return self::SUCCESS;
    }
}
