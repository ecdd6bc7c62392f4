<?php use Demo\Library; $step = 1; require __DIR__.'/../steps.php'; ?>
<h1 class="heading">Which instrument would you like?</h1>
<form action="/loan/details">
    <label>Instrument
        <select name="instrument">
            <?php foreach (Library::INSTRUMENTS as $slug => [$name]): ?>
                <option value="<?= $slug ?>"<?= ($_GET['instrument'] ?? '') === $slug ? ' selected' : '' ?>><?= $e($name) ?></option>
            <?php endforeach ?>
        </select>
    </label>
    <button class="button" id="next">Continue with the request</button>
</form>
<?php return 'Borrow';
