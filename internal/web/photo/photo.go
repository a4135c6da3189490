// Package photo takes pictures for other sheets, and shows them.
package photo

import (
	"io"
	"mime/multipart"
	"net/http"

	"github.com/gin-gonic/gin"

	"orpine/internal/ledger"
	"orpine/internal/photo"
	"orpine/internal/web/ui"
)

type sheets struct{ *ui.UI }

// Routes registers the pictures.
func Routes(u *ui.UI) {
	s := sheets{u}
	u.LargePOST("/photos", photo.MaxBytes+64<<10, s.add)
	u.GET("/photos/:id", func(c *gin.Context) { s.send(c, false) })
	u.GET("/photos/:id/thumb", func(c *gin.Context) { s.send(c, true) })
}

// add keeps a picture with a bay, a part, a hold or a slip.
func (s sheets) add(c *gin.Context) {
	n := photo.NewPhoto{Form: ledger.Form{ID: c.PostForm("id")}, Of: c.PostForm("of"), Caption: c.PostForm("caption")}
	var err error = ledger.Problems{"photo": "choose a JPEG or PNG picture of 15 MB at most"}
	if file, missing := c.FormFile("photo"); missing == nil { // else there is none, or too large a body to have fields at all
		if n.Data, err = readAll(file); err == nil {
			err = s.Photos.Add(c.Request.Context(), n)
		}
	}
	s.Done(c, err, ui.Back(c), func(r ui.Refused) {
		r.Of = "photo:" + n.Of
		s.Again(c, r)
	})
}

// readAll reads a file that was sent.
func readAll(file *multipart.FileHeader) ([]byte, error) {
	f, err := file.Open()
	if err != nil {
		return nil, err
	}
	defer f.Close()
	return io.ReadAll(io.LimitReader(f, photo.MaxBytes+1))
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
