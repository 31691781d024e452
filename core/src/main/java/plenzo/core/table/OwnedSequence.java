package plenzo.core.table;

import plenzo.core.json.Json;

/** Options of a sequence owned by a column, bounds as text because they exceed JSON's integers. */
public record OwnedSequence(
    String name,
    String type,
    String start,
    String increment,
    String min,
    String max,
    boolean cycle) {
  Json toJson() {
    return Json.object(
        "name",
        name,
        "type",
        type,
        "start",
        start,
        "increment",
        increment,
        "min",
        min,
        "max",
        max,
        "cycle",
        cycle);
  }

  static OwnedSequence of(Json.Obj j) {
    return new OwnedSequence(
        j.text("name"),
        j.text("type"),
        j.text("start"),
        j.text("increment"),
        j.text("min"),
        j.text("max"),
        j.flag("cycle"));
  }
}
