<?php

namespace App\Notices\Mail;

use App\Models\Site;
use App\Notices\Outbox;
use Carbon\CarbonImmutable;
use Illuminate\Mail\Mailable;
use Illuminate\Mail\Mailables\Content;
use Illuminate\Mail\Mailables\Envelope;
use Illuminate\Mail\Mailables\Headers;

/** A mail about a site: as text, and as HTML of the same words. */
abstract class SiteMail extends Mailable
{
    public function __construct(protected readonly Site $about)
    {
    }

    abstract protected function title(): string;

    /** @return string name of its views below `mail/` */
    abstract protected function words(): string;

    /** @return array<string, mixed> what its views show */
    abstract protected function shown(): array;

    public function envelope(): Envelope
    {
        // A subject is one line, whatever the names in it hold.
        return new Envelope(subject: mb_strimwidth((string) preg_replace('/\s+/u', ' ', mb_scrub($this->title(), 'UTF-8')), 0, 140, '…', 'UTF-8'));
    }

    public function headers(): Headers
    {
        // Nobody's absence is to answer it (RFC 3834).
        return new Headers(text: [Outbox::SITE => (string) $this->about->id, 'Auto-Submitted' => 'auto-generated']);
    }

    public function content(): Content
    {
        $zone = $this->about->time_zone;

        return new Content(view: "mail.{$this->words()}", text: "mail.{$this->words()}_text", with: [
            'site' => $this->about,
            'root' => rtrim((string) config('app.url'), '/')."/sites/{$this->about->key}",
            'moment' => static fn (CarbonImmutable|string $at): string => (is_string($at) ? CarbonImmutable::parse($at) : $at)->setTimezone($zone)->format('D j M Y, H:i'),
            // Numbers stay on one line.
            'held' => static fn (string $words): string => (string) preg_replace('/(?<=\d) (?=\d{3}\b|%)/u', "\u{a0}", $words),
            ...$this->shown(),
        ]);
    }
}
