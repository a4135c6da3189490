-- name: FilesCarried :many
SELECT sha256 FROM photos UNION SELECT thumb FROM photos;

-- name: NamesOfAirframes :many
SELECT id, name FROM airframes;

-- name: NamesOfInstruments :many
SELECT id, name FROM instruments;
