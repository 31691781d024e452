package plenzo.engine.binding;

import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import plenzo.core.json.Json;
import plenzo.core.stage.Binding;
import plenzo.core.target.ItemsDelta;

/**
 * What a host holds of its inputs once a run gave it its values.
 *
 * @param inputs those that the version declares
 * @param stamps when each binding was set that it holds (microseconds), by id
 * @param values every value that it was given, by the name under which it has it
 * @param bindings what was set then, for each input that had a value of the stage
 */
record Giving(
    Set<String> inputs,
    Map<String, Long> stamps,
    Map<String, ItemsDelta.Binding> values,
    List<Binding> bindings) {
  /** Of a host that was given nothing. */
  static final Giving NOTHING = new Giving(Set.of(), Map.of(), Map.of(), List.of());

  Giving {
    inputs = Set.copyOf(inputs);
    stamps = Map.copyOf(stamps);
    values = Map.copyOf(values);
    bindings = List.copyOf(bindings);
  }

  Optional<Binding> binding(String input) {
    return bindings.stream().filter(b -> b.input().equals(input)).findFirst();
  }

  /** What leads from here to another one: its values, and what is to be forgotten. */
  Map<String, ItemsDelta.Binding> to(Giving other) {
    Map<String, ItemsDelta.Binding> out = new LinkedHashMap<>();
    new TreeMap<>(other.values)
        .forEach(
            (name, value) -> {
              if (!value.equals(values.get(name))) {
                out.put(name, value);
              }
            });
    new TreeSet<>(values.keySet())
        .stream()
            .filter(name -> !other.values.containsKey(name))
            .forEach(name -> out.put(name, ItemsDelta.Binding.FORGET));
    return out;
  }

  /** As it is kept, encrypted. */
  String json() {
    Map<String, Json> set = new TreeMap<>();
    stamps.forEach((id, at) -> set.put(id, Json.of(at)));
    Map<String, Json> held = new TreeMap<>();
    values.forEach(
        (name, v) -> held.put(name, Json.object("value", v.value(), "secret", v.secret())));
    return Json.object(
            "inputs",
            inputs.stream().sorted().toList(),
            "stamps",
            Json.object(set),
            "values",
            Json.object(held),
            "bindings",
            bindings.stream().map(Giving::json).toList())
        .canonical();
  }

  private static Json json(Binding b) {
    return Json.object(
        "application",
        b.application(),
        "stage",
        b.stage(),
        "site",
        b.site(),
        "input",
        b.input(),
        "value",
        b.value(),
        "secret",
        b.secret(),
        "connection",
        b.connection(),
        "at",
        b.setAt().toString(),
        "by",
        b.setBy());
  }

  static Giving of(String text) {
    Json.Obj j = Json.parseObject(text);
    Map<String, Long> stamps = new TreeMap<>();
    ((Json.Obj) j.find("stamps"))
        .members()
        .forEach((id, at) -> stamps.put(id, Long.parseLong(at.canonical())));
    Map<String, ItemsDelta.Binding> values = new TreeMap<>();
    ((Json.Obj) j.find("values"))
        .members()
        .forEach(
            (name, v) -> {
              Json.Obj value = (Json.Obj) v;
              values.put(
                  name, new ItemsDelta.Binding(value.findText("value"), value.flag("secret")));
            });
    List<Binding> bindings = new ArrayList<>();
    for (Json one : j.list("bindings")) {
      Json.Obj b = (Json.Obj) one;
      bindings.add(
          new Binding(
              b.text("application"),
              b.text("stage"),
              b.text("site"),
              b.text("input"),
              b.findText("value"),
              b.flag("secret"),
              b.findText("connection"),
              Instant.parse(b.text("at")),
              b.text("by"),
              /* revision= */ 0));
    }
    return new Giving(new TreeSet<>(j.texts("inputs")), stamps, values, bindings);
  }
}
