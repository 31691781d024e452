package plenzo.engine.setup;

import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.core.calendar.Window;
import plenzo.core.probe.Probe;
import plenzo.core.stage.Application;
import plenzo.core.stage.Leg;
import plenzo.core.stage.Path;
import plenzo.core.stage.Stage;
import plenzo.core.stage.Weight;

/** What a change of the set-up changed, from what to what, for the history. */
final class Changes {
  private final List<String> out = new ArrayList<>();

  private Changes() {}

  private void of(String what, @Nullable Object old, @Nullable Object next) {
    if (!Objects.equals(old, next)) {
      out.add(what + " " + shown(old) + " to " + shown(next));
    }
  }

  /** Those of the first that are not among the second. */
  private void words(String what, List<String> of, List<String> without) {
    String left = of.stream().filter(w -> !without.contains(w)).collect(Collectors.joining(", "));
    if (!left.isEmpty()) {
      out.add(what + ": " + left);
    }
  }

  private static String shown(@Nullable Object value) {
    String text = value == null ? "" : String.valueOf(value);
    return text.isEmpty() || text.equals("[]") || text.equals("{}") ? "nothing" : text;
  }

  private String words() {
    return out.isEmpty() ? "nothing changed" : String.join("; ", out);
  }

  static String between(Stage old, Stage next) {
    Changes c = new Changes();
    c.of("name", old.name(), next.name());
    c.of("role", old.role(), next.role());
    c.of("position", old.position(), next.position());
    c.of("zone", old.zone(), next.zone());
    c.of("drift closes", old.driftCloses(), next.driftCloses());
    List<String> opened = old.windows().stream().map(Window::words).toList();
    List<String> opens = next.windows().stream().map(Window::words).toList();
    c.words("windows added", opens, opened);
    c.words("windows taken away", opened, opens);
    List<String> judged = old.weights().stream().map(Weight::words).toList();
    List<String> judges = next.weights().stream().map(Weight::words).toList();
    c.words("judged otherwise", judges, judged);
    c.words("no longer judged otherwise", judged, judges);
    for (Stage.Site site : old.sites()) {
      if (next.site(site.key()).isEmpty()) {
        c.out.add("site " + site.key() + " removed (" + targets(site) + ")");
      }
    }
    for (Stage.Site site : next.sites()) {
      Stage.Site was = old.site(site.key()).orElse(null);
      if (was == null) {
        c.out.add("site " + site.key() + " added (" + targets(site) + ")");
      } else {
        c.site(was, site);
      }
    }
    return c.words();
  }

  private static String targets(Stage.Site site) {
    return site.targets().isEmpty()
        ? "no target"
        : site.targets().stream().map(Stage.Target::key).collect(Collectors.joining(", "));
  }

  private void site(Stage.Site old, Stage.Site next) {
    for (Stage.Target t : old.targets()) {
      if (next.targets().stream().noneMatch(n -> n.requireId().equals(t.requireId()))) {
        out.add("target " + old.key() + " " + t.key() + " removed");
      }
    }
    for (Stage.Target t : next.targets()) {
      Stage.Target was =
          old.targets().stream()
              .filter(o -> o.requireId().equals(t.requireId()))
              .findFirst()
              .orElse(null);
      String name = old.key() + " " + t.key();
      if (was == null) {
        out.add("target " + name + " added (" + t.sort() + ")");
        continue;
      }
      of("name of target " + old.key(), was.key(), t.key());
      of("schemas of " + name, was.schemas(), t.schemas());
      of("looking connection of " + name, was.looking(), t.looking());
      of("changing connection of " + name, was.changing(), t.changing());
      of("scratch connection of " + name, was.scratch(), t.scratch());
      of("kept out of " + name, shut(was), shut(t));
    }
  }

  private static String shut(Stage.Target t) {
    return String.join(", ", t.doors().names()) + (t.doors().end() ? ", sessions ended" : "");
  }

  static String between(Path old, Path next) {
    Changes c = new Changes();
    c.of("name", old.name(), next.name());
    c.of("source", old.source(), next.source());
    c.of("stages", String.join(", ", old.stages()), String.join(", ", next.stages()));
    for (Leg leg : next.legs()) {
      List<String> was = old.leg(leg.stage()).map(Leg::words).orElse(List.of());
      c.words(leg.stage() + " asks now", leg.words(), was);
      c.words(leg.stage() + " asks no more", was, leg.words());
    }
    return c.words();
  }

  static String between(Application old, Application next) {
    Changes c = new Changes();
    c.of("name", old.name(), next.name());
    c.of("owner", old.owner(), next.owner());
    c.of("description", old.description(), next.description());
    c.of("paths", String.join(", ", old.paths()), String.join(", ", next.paths()));
    c.of("support", old.support(), next.support());
    c.of("further schemas", old.furtherSchemas(), next.furtherSchemas());
    c.of("private columns", old.privateColumns(), next.privateColumns());
    c.of(
        "questions",
        old.probes().stream().map(Probe::name).toList(),
        next.probes().stream().map(Probe::name).toList());
    return c.words();
  }
}
