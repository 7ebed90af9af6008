module crookedshelf

go 1.26.8

require (
	github.com/bmatcuk/doublestar/v4 v4.10.4
	github.com/gertd/go-pluralize v0.2.1
	github.com/goccy/go-yaml v1.19.2
	github.com/stretchr/testify v1.12.1
)

require (
	github.com/tailscale/hujson v0.0.0-20260727124030-b80ff77dac4f // indirect
	go.yaml.in/yaml/v3 v3.0.5 // indirect
)
