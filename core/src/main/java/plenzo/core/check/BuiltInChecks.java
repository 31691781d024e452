package plenzo.core.check;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.Predicate;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import plenzo.core.component.Kind;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.item.Definition;
import plenzo.core.json.Json;
import plenzo.core.table.Constraint;
import plenzo.core.table.TableStructure;

/** The checks that every Plenzo has. */
public final class BuiltInChecks {
  /**
   * From here on a file is said to be large (guess: published pages and pictures are far below).
   */
  static final long LARGE_FILE = 50L << 20;

  private static final int LONGEST_STRUCTURE = 4 << 20;

  private static final Set<Kind> DEFINITIONS = Set.of(Kind.RULE, Kind.FORM, Kind.INTEGRATION);

  /** Names of members that hold secrets, in common use. */
  private static final Pattern SECRET =
      Pattern.compile("password|passwd|passphrase|secret|token|api-?key|private-?key");

  private BuiltInChecks() {}

  /** What a check does with content. */
  private interface Looking {
    void look(ContentCheck.Content content, Consumer<ContentCheck.Remark> sink) throws IOException;
  }

  private record Check(String id, Set<Kind> kinds, Looking looking) implements ContentCheck {
    @Override
    public void check(Content content, Consumer<Remark> sink) throws IOException {
      looking.look(content, sink);
    }
  }

  public static List<ContentCheck> all() {
    return List.of(
        new Check("address-inside", DEFINITIONS, BuiltInChecks::addressInside),
        new Check("secret-inside", DEFINITIONS, BuiltInChecks::secretInside),
        new Check("no-title", DEFINITIONS, BuiltInChecks::noTitle),
        new Check("large-file", Set.of(Kind.FILE), BuiltInChecks::largeFile),
        new Check("no-key", Set.of(Kind.TABLE), BuiltInChecks::noKey));
  }

  private static Definition definition(ContentCheck.Content c) throws IOException {
    return Definition.of(c.key(), Json.parse(c.text(Definition.LONGEST)));
  }

  /** A definition that names an address itself calls the same system from every stage. */
  private static void addressInside(
      ContentCheck.Content content, Consumer<ContentCheck.Remark> sink) throws IOException {
    for (Found f :
        texts(definition(content), text -> text.matches("(?i)[a-z][a-z0-9+.-]*://\\S+"))) {
      sink.accept(
          new ContentCheck.Remark(
              Severity.RISK,
              f.pointer(),
              content.key()
                  + " holds the address "
                  + f.text()
                  + ", so every stage calls the same system.",
              "Declare an input of type address and name it there"));
    }
  }

  private static void secretInside(ContentCheck.Content content, Consumer<ContentCheck.Remark> sink)
      throws IOException {
    Definition d = definition(content);
    Set<String> inputs =
        d.inputs().stream().map(Definition.Input::name).collect(Collectors.toSet());
    for (Found f : texts(d, text -> !text.isBlank() && !inputs.contains(text))) {
      String member = f.pointer().substring(f.pointer().lastIndexOf('/') + 1);
      if (SECRET.matcher(member.toLowerCase(Locale.ROOT).replace('_', '-')).find()) {
        sink.accept(
            new ContentCheck.Remark(
                Severity.BLOCKER,
                f.pointer(),
                content.key()
                    + " holds text in "
                    + f.pointer()
                    + ", which looks like a secret; a version is read by many.",
                "Declare a secret input and name it there"));
      }
    }
  }

  private static void noTitle(ContentCheck.Content content, Consumer<ContentCheck.Remark> sink)
      throws IOException {
    if (definition(content).title().isBlank()) {
      sink.accept(
          new ContentCheck.Remark(
              Severity.NOTE, "", content.key() + " has no title.", "Say what people call it"));
    }
  }

  private static void largeFile(ContentCheck.Content content, Consumer<ContentCheck.Remark> sink) {
    if (content.size() >= LARGE_FILE) {
      sink.accept(
          new ContentCheck.Remark(
              Severity.NOTE,
              "",
              content.key() + " has " + (content.size() >> 20) + " MB.",
              "Keep what an application writes or loads elsewhere out of the version"));
    }
  }

  private static void noKey(ContentCheck.Content content, Consumer<ContentCheck.Remark> sink)
      throws IOException {
    TableStructure t = TableStructure.of(content.text(LONGEST_STRUCTURE));
    boolean key =
        t.constraints().stream()
            .anyMatch(
                k -> k.type() == Constraint.Type.PRIMARY || k.type() == Constraint.Type.UNIQUE);
    if (!key) {
      sink.accept(
          new ContentCheck.Remark(
              Severity.NOTE,
              "",
              content.key()
                  + " has no key: its rows can be records only where all columns tell them apart.",
              "Give it a primary key"));
    }
  }

  /** A text inside a definition, and where. */
  private record Found(String pointer, String text) {}

  private static List<Found> texts(Definition d, Predicate<String> wanted) {
    List<Found> out = new ArrayList<>();
    walk("/definition", d.definition(), wanted, out);
    return out;
  }

  private static void walk(String at, Json json, Predicate<String> wanted, List<Found> out) {
    if (json instanceof Json.Str s && wanted.test(s.value())) {
      out.add(new Found(at, s.value()));
    } else if (json instanceof Json.Obj o) {
      o.members()
          .forEach(
              (name, value) ->
                  walk(at + "/" + name.replace("~", "~0").replace("/", "~1"), value, wanted, out));
    } else if (json instanceof Json.Arr a) {
      for (int n = 0; n < a.items().size(); n++) {
        walk(at + "/" + n, a.items().get(n), wanted, out);
      }
    }
  }
}
