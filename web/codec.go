package web

// Sessions as they are kept in the file.

import (
	"encoding/json"
	"time"
)

// jsonCodec writes sessions as JSON: they hold a few words, are read at every
// page, and the default codec takes longer for that than the page.
type jsonCodec struct{}

type sessionData struct {
	Deadline time.Time         `json:"deadline"`
	Values   map[string]string `json:"values"`
}

// Encode implements scs.Codec.
func (jsonCodec) Encode(deadline time.Time, values map[string]any) ([]byte, error) {
	data := sessionData{deadline, make(map[string]string, len(values))}
	for k, v := range values {
		data.Values[k], _ = v.(string)
	}
	return json.Marshal(data)
}

// Decode implements scs.Codec.
func (jsonCodec) Decode(b []byte) (time.Time, map[string]any, error) {
	var data sessionData
	err := json.Unmarshal(b, &data)
	values := make(map[string]any, len(data.Values))
	for k, v := range data.Values {
		values[k] = v
	}
	return data.Deadline, values, err
}
