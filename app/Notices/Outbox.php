<?php

declare(strict_types=1);

namespace App\Notices;

use App\Models\KeptMail;
use Carbon\CarbonImmutable;
use Symfony\Component\Mailer\SentMessage;
use Symfony\Component\Mailer\Transport\AbstractTransport;
use Symfony\Component\Mime\Email;

/** Stands in for a mail server: keeps each mail, where it can be read in the application, and sends none. */
final class Outbox extends AbstractTransport
{
    /** Names the site that a mail is about; one about an account has none, and is shown to nobody but whoever runs this copy (`bin/pellix mails`). */
    public const SITE = 'Pellix-Site';

    protected function doSend(SentMessage $message): void
    {
        $mail = $message->getOriginalMessage();
        $site = $mail instanceof Email ? $mail->getHeaders()->getHeaderBody(self::SITE) : null;
        if (! $mail instanceof Email) {
            throw new \LogicException('The outbox keeps mails, and nothing else.');
        }
        foreach ($mail->getTo() as $to) {
            KeptMail::query()->create(['site_id' => is_numeric($site) ? (int) $site : null, 'recipient' => $to->getAddress(), 'subject' => (string) $mail->getSubject(), 'text' => (string) $mail->getTextBody(), 'html' => (string) $mail->getHtmlBody(), 'at' => CarbonImmutable::now('UTC')]);
        }
    }

    public function __toString(): string
    {
        return 'outbox';
    }
}
