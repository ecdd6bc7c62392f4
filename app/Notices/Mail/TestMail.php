<?php

namespace App\Notices\Mail;

/** Shows that mails of this copy arrive. */
class TestMail extends SiteMail
{
    protected function title(): string
    {
        return "A test from Pellix, {$this->about->name}";
    }

    protected function words(): string
    {
        return 'test';
    }

    /** @return array<string, mixed> */
    protected function shown(): array
    {
        return [];
    }
}
