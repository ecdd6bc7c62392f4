<?php

namespace App\SignIn\Mail;

use Illuminate\Mail\Mailable;
use Illuminate\Mail\Mailables\Content;
use Illuminate\Mail\Mailables\Envelope;
use Illuminate\Mail\Mailables\Headers;

/** A mail about an account: a few lines, and a link where there is something to do. */
class AccountMail extends Mailable
{
    /** @param list<string> $lines */
    public function __construct(private readonly string $title, private readonly array $lines, private readonly ?string $link = null)
    {
    }

    public function envelope(): Envelope
    {
        return new Envelope(subject: mb_strimwidth((string) preg_replace('/\s+/u', ' ', mb_scrub($this->title, 'UTF-8')), 0, 140, '…', 'UTF-8'));
    }

    public function headers(): Headers
    {
        // Nobody's absence is to answer it (RFC 3834).
        return new Headers(text: ['Auto-Submitted' => 'auto-generated']);
    }

    public function content(): Content
    {
        return new Content(view: 'mail.account', text: 'mail.account_text', with: ['title' => $this->title, 'lines' => $this->lines, 'link' => $this->link]);
    }
}
