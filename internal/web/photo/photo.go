// Package photo takes pictures for other sheets, and shows them.
package photo

import (
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/url"

	"github.com/gin-gonic/gin"

	"orpine/internal/ledger"
	"orpine/internal/photo"
	"orpine/internal/web/ui"
)

type sheets struct{ *ui.UI }

// Routes registers the pictures.
func Routes(u *ui.UI) {
	s := sheets{u}
	u.LargePOST("/photos", mostSent, s.add)
	u.GET("/photos/:id", func(c *gin.Context) { s.send(c, false) })
	u.GET("/photos/:id/thumb", func(c *gin.Context) { s.send(c, true) })
}

// mostSent is how much of a form with a picture is read at all: one that is too large is read to
// its end, and dropped, so that the page comes back with what was typed beside it.
const mostSent = 256 << 20

// add keeps a picture with a bay, a part, a hold or a slip.
func (s sheets) add(c *gin.Context) {
	typed, data, err := read(c.Request)
	n := photo.NewPhoto{Form: ledger.Form{ID: typed["id"]}, Of: typed["of"], Caption: typed["caption"], Data: data}
	if err != nil {
		err = ledger.Problems{"photo": err.Error()}
	} else {
		err = s.Photos.Add(c.Request.Context(), n)
	}
	c.Request.PostForm = url.Values{}
	for name, value := range typed {
		c.Request.PostForm.Set(name, value)
	}
	s.Done(c, err, ui.Back(c), func(r ui.Refused) {
		r.Of, r.Typed = "photo:"+n.Of, typed
		s.Again(c, r)
	})
}

// read reads a form with a picture part by part.
func read(r *http.Request) (typed map[string]string, data []byte, err error) {
	typed = map[string]string{}
	parts, err := r.MultipartReader()
	if err != nil {
		return typed, nil, errors.New("choose a picture")
	}
	for {
		p, err := parts.NextPart()
		if err == io.EOF {
			if len(data) > photo.MaxBytes {
				return typed, nil, fmt.Errorf("is larger than %d MB", photo.MaxBytes>>20)
			}
			return typed, data, nil
		}
		if err != nil {
			return typed, nil, errors.New("came only in part: send it once more")
		}
		most := int64(ledger.MaxNote)
		if p.FormName() == "photo" {
			most = photo.MaxBytes + 1
		}
		part, err := io.ReadAll(io.LimitReader(p, most))
		if err == nil {
			_, err = io.Copy(io.Discard, p)
		}
		if err != nil {
			return typed, nil, errors.New("came only in part: send it once more")
		}
		if p.FormName() == "photo" {
			data = part
		} else {
			typed[p.FormName()] = string(part)
		}
	}
}

func (s sheets) send(c *gin.Context, thumb bool) {
	kind, data, err := s.Photos.Content(c.Request.Context(), c.Param("id"), thumb)
	if err != nil {
		s.Fail(c, err)
		return
	}
	c.Header("Cache-Control", "private, max-age=31536000, immutable")
	c.Data(http.StatusOK, kind, data)
}
