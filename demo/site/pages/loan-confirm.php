<?php $step = 3; require __DIR__.'/../steps.php'; ?>
<h1 class="heading">Shall we put it aside for you?</h1>
<p>We keep it at the desk until noon of the day that you chose.</p>
<form action="/loan/done"><button class="button" id="next">Put it aside</button></form>
<?php return 'Borrow';
