<h1>Thank you</h1>
<p class="lead">Somebody will play better for it.</p>
<?php return 'Thank you';
