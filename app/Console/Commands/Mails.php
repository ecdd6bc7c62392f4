<?php

namespace App\Console\Commands;

use App\Models\KeptMail;
use Illuminate\Console\Command;

/** What this copy keeps instead of sending it, also about accounts: only whoever runs it may read that, since links in it open accounts. */
class Mails extends Command
{
    private const MOST = 200;

    protected $signature = 'pellix:mails {--last=5 : how many}';

    protected $description = 'Prints the newest mails that this copy kept instead of sending them';

    public function handle(): int
    {
        $last = $this->option('last');
        if (! is_string($last) || preg_match('/\A[1-9]\d{0,2}\z/', $last) !== 1 || (int) $last > self::MOST) {
            $this->output->getErrorStyle()->writeln('--last: a number from 1 to '.self::MOST.'.');

            return 2;
        }
        $mails = KeptMail::query()->latest('id')->limit((int) $last)->get()->reverse();
        foreach ($mails as $mail) {
            // Names that people chose are in it: nothing of them steers a terminal.
            $this->output->writeln((string) preg_replace('/[\x00-\x08\x0b-\x1f\x7f]/', '', "{$mail->at->format('Y-m-d H:i')} UTC  to {$mail->recipient}\n{$mail->subject}\n\n{$mail->text}\n".str_repeat('-', 72)), \Symfony\Component\Console\Output\OutputInterface::OUTPUT_RAW);
        }
        $mails->isEmpty() && $this->line('No mail was kept. A copy that has a mail server sends them instead.');

        return self::SUCCESS;
    }
}
