<?php

declare(strict_types=1);

namespace Pellix\Core\Rights;

/** What a person may do on a site; each right includes those before it. */
enum Right: string
{
    /** See everything. */
    case Look = 'look';

    /** Define, try, inspect, rehearse and audit: everything that visitors do not notice. */
    case Work = 'work';

    /** Start and stop experiments, publish code, change what pages send. */
    case Publish = 'publish';

    /** Decide who may what, and what is kept for how long. */
    case Own = 'own';

    public function includes(self $other): bool
    {
        return array_search($other, self::cases(), true) <= array_search($this, self::cases(), true);
    }

    /** @param bool $twoPeople whether the site wants that nobody changes alone what its pages run */
    public function publishesAlone(bool $twoPeople): bool
    {
        return ! $twoPeople && $this->includes(self::Publish);
    }

    /** What is left of it where somebody acts with a token that may no more than so much. */
    public function within(self $most): self
    {
        return $most->includes($this) ? $this : $most;
    }
}
