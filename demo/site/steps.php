<?php /** @var int $step */ ?>
<ol class="steps">
    <?php foreach ([1 => 'Instrument', 2 => 'Day', 3 => 'Confirm'] as $number => $label): ?>
        <li<?= $number === $step ? ' aria-current="step"' : '' ?>><?= $number ?> <?= $label ?></li>
    <?php endforeach ?>
</ol>
