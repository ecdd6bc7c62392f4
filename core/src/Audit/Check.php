<?php

declare(strict_types=1);

namespace Pellix\Core\Audit;

/** One thing that an audit looks for. */
interface Check
{
    public function code(): AuditCode;

    /**
     * @return list<Finding>
     *
     * @throws NotRun where the data does not tell
     */
    public function look(Evidence $evidence): array;
}
