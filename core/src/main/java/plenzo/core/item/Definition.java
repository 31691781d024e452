package plenzo.core.item;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.json.Json;
import plenzo.core.words.Codes;

/**
 * A rule, form or integration as a document: what it refers to and which inputs it needs stand in
 * fixed places, what it means is the host's own. See docs/formats/component-document.md.
 */
public record Definition(
    ComponentKey key,
    String title,
    List<Reference> references,
    List<Input> inputs,
    Json.Obj definition) {
  /** Longest document that is taken: 1 MiB (guess: far above definitions in use). */
  public static final int LONGEST = 1 << 20;

  private static final Set<String> HOW = Set.of("reads", "writes", "calls", "shows");
  private static final Set<String> MEMBERS =
      Set.of("format", "kind", "name", "title", "references", "inputs", "definition");

  public Definition {
    references = List.copyOf(references);
    inputs = List.copyOf(inputs);
  }

  /**
   * One component that this one needs.
   *
   * @param how reads, writes, calls or shows
   */
  public record Reference(String how, ComponentKey component) {}

  /**
   * @throws IllegalArgumentException when the document is not of this form; says which member
   */
  public static Definition of(ComponentKey key, Json json) {
    if (!(json instanceof Json.Obj doc)) {
      throw refused(key, "is no JSON object");
    }
    for (String member : doc.members().keySet()) {
      if (!MEMBERS.contains(member)) {
        throw refused(key, "has the unknown member \"" + member + "\"");
      }
    }
    if (!(doc.find("format") instanceof Json.Num format) || format.value() != 1) {
      throw refused(key, "is not of format 1");
    }
    if (!key.kind().code().equals(doc.findText("kind"))
        || !key.name().equals(doc.findText("name"))) {
      throw refused(key, "names another kind or name in itself");
    }
    if (!(doc.find("definition") instanceof Json.Obj definition)) {
      throw refused(key, "has no object \"definition\"");
    }
    List<Reference> references = new ArrayList<>();
    for (Json r : doc.list("references")) {
      references.add(reference(key, r));
    }
    List<Input> inputs = new ArrayList<>();
    for (Json i : doc.list("inputs")) {
      try {
        inputs.add(Input.of(i));
      } catch (IllegalArgumentException e) {
        throw refused(key, "has an input that cannot be read: " + e.getMessage());
      }
    }
    String title = doc.findText("title");
    return new Definition(key, title == null ? "" : title, references, inputs, definition);
  }

  private static Reference reference(ComponentKey key, Json json) {
    if (json instanceof Json.Obj r) {
      String how = r.findText("how");
      String component = r.findText("component");
      if (how != null && component != null && HOW.contains(how)) {
        return new Reference(how, ComponentKey.of(component));
      }
    }
    throw refused(
        key, "has a reference without \"how\" (reads, writes, calls, shows) and \"component\"");
  }

  private static IllegalArgumentException refused(ComponentKey key, String why) {
    return new IllegalArgumentException("The document of " + key + " " + why);
  }

  public Json.Obj toJson() {
    return Json.object(
        "format",
        1,
        "kind",
        key.kind().code(),
        "name",
        key.name(),
        "title",
        title,
        "references",
        references.stream()
            .map(r -> Json.object("how", r.how(), "component", r.component().toString()))
            .toList(),
        "inputs",
        inputs.stream().map(Input::toJson).toList(),
        "definition",
        definition);
  }

  /**
   * A declared input: a setting or connection that each stage supplies; its value is never part of
   * a version.
   *
   * @param type text, number, flag, address or connection
   * @param fallback value where a stage binds none, null when one must be bound
   * @param pattern regular expression that a value must match, null for any
   */
  public record Input(
      String name,
      Type type,
      String description,
      boolean secret,
      @Nullable String fallback,
      @Nullable String pattern) {
    public Input {
      if (!name.matches("[a-z][a-z0-9-]{0,59}")) {
        throw new IllegalArgumentException(
            "an input's name is lower-case letters, digits and hyphens; got \"" + name + "\"");
      }
      if (secret && fallback != null) {
        throw new IllegalArgumentException("the secret input " + name + " has a default");
      }
      if (pattern != null) {
        if (pattern.length() > 200) {
          throw new IllegalArgumentException("the pattern of " + name + " is too long");
        }
        java.util.regex.Pattern.compile(pattern);
      }
    }

    /** What sort of value. */
    public enum Type {
      TEXT,
      NUMBER,
      FLAG,
      ADDRESS,
      CONNECTION;

      public String code() {
        return name().toLowerCase(java.util.Locale.ROOT);
      }

      static Type of(String code) {
        return Codes.find("a type of input", values(), Type::code, code);
      }
    }

    static Input of(Json json) {
      if (!(json instanceof Json.Obj i)) {
        throw new IllegalArgumentException("it is no object");
      }
      String description = i.findText("description");
      return new Input(
          i.text("name"),
          Type.of(i.text("type")),
          description == null ? "" : description,
          i.flag("secret"),
          i.findText("default"),
          i.findText("pattern"));
    }

    Json toJson() {
      return Json.object(
          "name",
          name,
          "type",
          type.code(),
          "description",
          description,
          "secret",
          secret ? true : null,
          "default",
          fallback,
          "pattern",
          pattern);
    }

    /** Why a value does not fit; empty when it does. */
    public String problem(String value) {
      boolean fits =
          switch (type) {
            case TEXT, CONNECTION -> !value.isEmpty();
            case NUMBER -> value.matches("-?[0-9]{1,18}(\\.[0-9]{1,18})?");
            case FLAG -> value.equals("true") || value.equals("false");
            case ADDRESS -> value.matches("[a-z][a-z0-9+.-]*://[^\\s]{1,400}");
          };
      if (!fits) {
        return "is no " + type.code();
      }
      return pattern == null || value.matches(pattern) ? "" : "does not match " + pattern;
    }
  }
}
