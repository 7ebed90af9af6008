<p>Say which <?= implode(' or which ', $kinds) ?>.</p>
