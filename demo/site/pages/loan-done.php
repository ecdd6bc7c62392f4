<h1>It is yours for a while</h1>
<p class="lead">Your loan is noted. Bring a bag, and play it every day.</p>
<p><a class="button" href="/catalogue">Back to the catalogue</a></p>
<?php return 'Loan noted';
