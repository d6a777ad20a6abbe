package rigfile

import (
	"reflect"

	"eventether/core/runsheet"
	"eventether/core/sheet"
	"eventether/internal/media"
)

var (
	sheetSchema   = registry.Schema(reflect.TypeFor[sheet.Sheet](), true, "Sheet")
	runSchema     = registry.Schema(reflect.TypeFor[runsheet.RunSheet](), true, "RunSheet")
	measureSchema = registry.Schema(reflect.TypeFor[media.Result](), true, "Result")
)

// SheetSchema is the JSON Schema (2020-12) of an encoder sheet, as kept in docs/formats.
func SheetSchema() ([]byte, error) {
	return schemaDocument("eventether-sheet-1.schema.json", "Even Tether encoder sheet, format 1", sheetSchema.Ref)
}

// RunSheetSchema is the JSON Schema (2020-12) of a run sheet.
func RunSheetSchema() ([]byte, error) {
	return schemaDocument("eventether-runsheet-1.schema.json", "Even Tether run sheet, format 1", runSchema.Ref)
}

// MeasureSchema is the JSON Schema (2020-12) of a file of measurements.
func MeasureSchema() ([]byte, error) {
	return schemaDocument("eventether-measure-1.schema.json", "Even Tether measurements, format 1", measureSchema.Ref)
}
