// Package page is what every page of the program stands in: who is visiting, the
// frame, forms read and refusals shown. It alone knows the web framework;
// features are written against Visit, Route and Page.
package page
