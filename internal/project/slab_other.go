//go:build !linux

package project

func inLargePages([]byte) {}
