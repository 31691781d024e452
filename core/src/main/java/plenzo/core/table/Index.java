package plenzo.core.table;

import plenzo.core.json.Json;

/** An index that no constraint owns; the definition is the server's own CREATE INDEX text. */
public record Index(String name, boolean unique, String definition) {
  public Index {
    definition = Printed.of(definition);
  }

  Json toJson() {
    return Json.object("name", name, "unique", unique, "definition", definition);
  }

  static Index of(Json.Obj j) {
    return new Index(j.text("name"), j.flag("unique"), j.text("definition"));
  }
}
