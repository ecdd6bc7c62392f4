<?php use Demo\Library; ?>
<h1 class="heading">The catalogue</h1>
<p class="lead">Everything here has been played, mended and tuned by somebody who cares.</p>
<ul class="shelf">
    <?php foreach (Library::INSTRUMENTS as $slug => [$name, $kind, , $months]): ?>
        <li><a href="/catalogue/<?= $slug ?>"><strong><?= $e($name) ?></strong><?= $e($kind) ?><br>
            <em><?= $months === 0 ? 'On the shelf' : "Back in {$months} month".($months > 1 ? 's' : '') ?></em></a></li>
    <?php endforeach ?>
</ul>
<?php return 'Catalogue';
