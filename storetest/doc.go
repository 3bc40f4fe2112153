// Package storetest tries the store through the demo yard, which stands above it.
package storetest
