package plenzo.core.impact;

import java.nio.charset.StandardCharsets;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.Kind.Holder;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.item.Definition;
import plenzo.core.item.FilePath;
import plenzo.core.target.ItemsDelta;
import plenzo.core.target.ItemsLooking;
import plenzo.core.words.Words;

/** What files and definitions could break, and what could break them. */
final class ItemRules {
  private static final int NAMED = 5;

  /** Room that must be left in a directory beside what is written: 64 MiB (guess). */
  private static final long ROOM = 64L << 20;

  static final List<Rule<ItemsCase>> ALL =
      List.of(
          Rule.of("no-target", Severity.BLOCKER, ItemRules::noTarget),
          Rule.of("path-too-long", Severity.BLOCKER, ItemRules::paths),
          Rule.of("case-collision", Severity.BLOCKER, ItemRules::collisions),
          Rule.of("no-room", Severity.BLOCKER, ItemRules::room),
          Rule.of("changed-in-place", Severity.RISK, ItemRules::changedInPlace),
          Rule.of("reference-missing", Severity.BLOCKER, ItemRules::references),
          Rule.of("dependent-breaks", Severity.BLOCKER, ItemRules::dependents),
          Rule.of("input-unbound", Severity.BLOCKER, ItemRules::unbound),
          Rule.of("input-unfit", Severity.BLOCKER, ItemRules::unfit),
          Rule.of("value-forgotten", Severity.RISK, ItemRules::forgotten),
          Rule.of("points-elsewhere", Severity.RISK, ItemRules::elsewhere),
          Rule.of("arrives-off", Severity.RISK, ItemRules::arrivesOff),
          Rule.of("stays-off", Severity.RISK, ItemRules::staysOff),
          Rule.of("running-work", Severity.RISK, ItemRules::work),
          Rule.of("people-signed-in", Severity.RISK, ItemRules::people),
          Rule.of("only-there", Severity.RISK, ItemRules::onlyThere));

  private ItemRules() {}

  private static void noTarget(ItemsCase c, Consumer<Finding> out) {
    for (Holder holder : c.needed()) {
      if (!c.holders().contains(holder)) {
        out.accept(
            Finding.said(
                "no-target",
                Severity.BLOCKER,
                c.site(),
                "The version has components for a "
                    + holder.word()
                    + ", and "
                    + c.site()
                    + " has none.",
                "Add the " + holder.word() + " to " + c.site() + " in the set-up of stages"));
      }
    }
  }

  private static List<ItemsDelta.Change> files(ItemsCase c) {
    ItemsDelta delta = c.deltas().get(Holder.DIRECTORY);
    return delta == null ? List.of() : delta.changes();
  }

  private static void paths(ItemsCase c, Consumer<Finding> out) {
    ItemsLooking.Limits limits = c.limits().get(Holder.DIRECTORY);
    if (limits == null || limits.pathBytes() == 0) {
      return;
    }
    for (ItemsDelta.Change f : files(c)) {
      int over = f.key().name().getBytes(StandardCharsets.UTF_8).length - limits.pathBytes();
      if (f.act() != Difference.REMOVED && over > 0) {
        out.accept(
            Finding.of(
                "path-too-long",
                Severity.BLOCKER,
                f.key().toString(),
                "The path is "
                    + Words.count(over, "byte")
                    + " longer than the "
                    + limits.pathBytes()
                    + " that are left there.",
                over,
                "Shorten the name or the folders",
                null));
      }
    }
  }

  private static void collisions(ItemsCase c, Consumer<Finding> out) {
    ItemsLooking.Limits limits = c.limits().get(Holder.DIRECTORY);
    if (limits == null || limits.tellsCase()) {
      return;
    }
    Map<String, ComponentKey> seen = new HashMap<>();
    for (ComponentKey key : new TreeSet<>(c.after())) {
      ComponentKey other =
          key.kind() == Kind.FILE ? seen.put(FilePath.folded(key.name()), key) : null;
      if (other != null) {
        out.accept(
            Finding.said(
                "case-collision",
                Severity.BLOCKER,
                key.toString(),
                key.name()
                    + " and "
                    + other.name()
                    + " are one file there: the directory does not tell upper and lower case apart.",
                "Rename one of them"));
      }
    }
  }

  private static void room(ItemsCase c, Consumer<Finding> out) {
    ItemsLooking.Limits limits = c.limits().get(Holder.DIRECTORY);
    ItemsDelta delta = c.deltas().get(Holder.DIRECTORY);
    if (limits == null || delta == null || delta.isEmpty() || limits.room() < 0) {
      return;
    }
    long needed = delta.bytes() + limits.appliedBytes() + ROOM;
    if (limits.room() < needed) {
      out.accept(
          Finding.said(
              "no-room",
              Severity.BLOCKER,
              c.site() + " directory",
              (limits.room() >> 20)
                  + " MB are free beside the directory, and the run needs "
                  + (needed >> 20)
                  + " MB.",
              "Make room, then compare again"));
    }
  }

  private static void changedInPlace(ItemsCase c, Consumer<Finding> out) {
    ItemsLooking.Limits limits = c.limits().get(Holder.DIRECTORY);
    if (limits == null || files(c).isEmpty() || limits.changedInPlace().isEmpty()) {
      return;
    }
    List<String> names = limits.changedInPlace();
    out.accept(
        Finding.of(
                "changed-in-place",
                Severity.RISK,
                c.site() + " directory",
                Words.count(names.size(), "file")
                    + (names.size() == 1 ? " was" : " were")
                    + " written inside the published tree since it was put there ("
                    + named(names)
                    + "). What is written during the switch itself may be left behind.",
                names.size(),
                "Let the application write outside the tree, or use the mode \"in place\"",
                null)
            .with(names.subList(0, Math.min(names.size(), NAMED))));
  }

  private static String named(List<String> names) {
    return String.join(", ", names.subList(0, Math.min(names.size(), NAMED)))
        + (names.size() > NAMED ? " and " + (names.size() - NAMED) + " more" : "");
  }

  private static void references(ItemsCase c, Consumer<Finding> out) {
    for (Definition d : c.arriving()) {
      for (Definition.Reference r : d.references()) {
        if (!c.after().contains(r.component())) {
          out.accept(
              Finding.said(
                  "reference-missing",
                  Severity.BLOCKER,
                  d.key().toString(),
                  d.key()
                      + " "
                      + r.how()
                      + " "
                      + r.component()
                      + ", which will not be at "
                      + c.site()
                      + ".",
                  "Take " + r.component() + " into the version"));
        }
      }
    }
  }

  private static void dependents(ItemsCase c, Consumer<Finding> out) {
    for (Definition d : c.staying()) {
      for (Definition.Reference r : d.references()) {
        if (!c.after().contains(r.component()) && removed(c, r.component())) {
          out.accept(
              Finding.said(
                  "dependent-breaks",
                  Severity.BLOCKER,
                  d.key().toString(),
                  d.key() + ", which stays, " + r.how() + " " + r.component() + ", which goes.",
                  "Leave " + r.component() + ", or take " + d.key() + " away too"));
        }
      }
    }
  }

  private static boolean removed(ItemsCase c, ComponentKey key) {
    return c.deltas().values().stream()
        .flatMap(d -> d.changes().stream())
        .anyMatch(x -> x.act() == Difference.REMOVED && x.key().equals(key));
  }

  private static void unbound(ItemsCase c, Consumer<Finding> out) {
    for (ItemsCase.InputState i : c.inputs()) {
      if (i.missing()) {
        String name = i.input().name();
        String meaning =
            i.input().description().isEmpty() ? "" : " (" + i.input().description() + ")";
        out.accept(
            Finding.said(
                i.input().secret() ? "secret-missing" : "input-unbound",
                Severity.BLOCKER,
                c.site() + "#" + name,
                i.neededBy()
                    + " needs "
                    + name
                    + meaning
                    + ", and "
                    + c.site()
                    + " has no value for it.",
                set(c, name)));
      }
    }
  }

  private static void forgotten(ItemsCase c, Consumer<Finding> out) {
    for (ItemsCase.InputState i : c.inputs()) {
      if (i.forgotten() && !i.missing()) {
        String name = i.input().name();
        out.accept(
            Finding.said(
                "value-forgotten",
                Severity.RISK,
                c.site() + "#" + name,
                i.neededBy()
                    + " needs "
                    + name
                    + ", and nothing is set for "
                    + c.site()
                    + " any more: the host is told to forget the value that it has.",
                "If it should have one: " + set(c, name)));
      }
    }
  }

  private static void unfit(ItemsCase c, Consumer<Finding> out) {
    for (ItemsCase.InputState i : c.inputs()) {
      if (!i.missing() && !i.problem().isEmpty()) {
        String name = i.input().name();
        out.accept(
            Finding.said(
                "input-unfit",
                Severity.BLOCKER,
                c.site() + "#" + name,
                "The value of " + name + " " + i.problem() + ".",
                "Correct it: " + set(c, name)));
      }
    }
  }

  private static void elsewhere(ItemsCase c, Consumer<Finding> out) {
    for (ItemsCase.InputState i : c.inputs()) {
      if (!i.missing() && i.problem().isEmpty() && !i.sameAs().isEmpty()) {
        String name = i.input().name();
        out.accept(
            Finding.said(
                "points-elsewhere",
                Severity.RISK,
                c.site() + "#" + name,
                "The value of "
                    + name
                    + " is the same as in "
                    + i.sameAs()
                    + ": "
                    + c.site()
                    + " would use "
                    + i.sameAs()
                    + "'s system.",
                "Bind " + name + " to " + c.site() + "'s own system"));
      }
    }
  }

  private static void arrivesOff(ItemsCase c, Consumer<Finding> out) {
    ItemsDelta delta = c.deltas().get(Holder.HOST);
    if (delta == null) {
      return;
    }
    List<String> off =
        delta.changes().stream()
            .filter(x -> x.act() == Difference.ADDED && !x.activate())
            .map(x -> x.key().toString())
            .toList();
    if (!off.isEmpty()) {
      out.accept(
          Finding.of(
              "arrives-off",
              Severity.NOTE,
              c.site() + " host",
              Words.count(off.size(), "new component")
                  + (off.size() == 1 ? " arrives" : " arrive")
                  + " switched off: "
                  + named(off)
                  + ".",
              off.size(),
              "Activate them in this plan, or later when the connections are right",
              null));
    }
  }

  private static void staysOff(ItemsCase c, Consumer<Finding> out) {
    ItemsDelta delta = c.deltas().get(Holder.HOST);
    if (delta == null) {
      return;
    }
    List<String> stays =
        delta.changes().stream()
            .filter(x -> x.act() == Difference.CHANGED && !x.activate())
            .filter(
                x ->
                    c.present().containsKey(x.key())
                        && Boolean.FALSE.equals(
                            Objects.requireNonNull(c.present().get(x.key())).active()))
            .map(x -> x.key().toString())
            .toList();
    if (!stays.isEmpty()) {
      out.accept(
          Finding.of(
              "stays-off",
              Severity.NOTE,
              c.site() + " host",
              Words.count(stays.size(), "changed component")
                  + (stays.size() == 1 ? " is" : " are")
                  + " switched off there and stay so: "
                  + named(stays)
                  + ".",
              stays.size(),
              "Activate them in this plan if they should work",
              null));
    }
  }

  /** The run waits for all of it, whatever it changes, as soon as it closes the host. */
  private static void work(ItemsCase c, Consumer<Finding> out) {
    ItemsLooking.Work work = c.work();
    if (work == null || !c.closes() || work.running().isEmpty()) {
      return;
    }
    ItemsDelta delta = c.deltas().get(Holder.HOST);
    Set<String> touched =
        delta == null
            ? Set.of()
            : delta.changes().stream().map(x -> x.key().toString()).collect(Collectors.toSet());
    long hit = work.running().stream().filter(w -> touched.contains(w.component())).count();
    long all = work.running().size();
    List<String> names =
        work.running().stream().map(w -> w.what() + " of " + w.person()).limit(NAMED).toList();
    out.accept(
        Finding.of(
                "running-work",
                hit == 0 ? Severity.NOTE : Severity.RISK,
                c.site() + " host",
                Words.count(all, "piece")
                    + " of running work "
                    + (all == 1 ? "goes" : "go")
                    + " on there"
                    + (hit == 0 ? "" : ", " + hit + " in the middle of what changes")
                    + "; the run waits for "
                    + (all == 1 ? "it" : "them")
                    + " to end as long as its leg says, and is given up otherwise.",
                all,
                "Start the run when they have ended",
                null)
            .with(names));
  }

  private static void people(ItemsCase c, Consumer<Finding> out) {
    ItemsLooking.Work work = c.work();
    if (work != null && c.closes() && work.people() > 0) {
      out.accept(
          Finding.of(
              "people-signed-in",
              Severity.NOTE,
              c.site() + " host",
              (work.people() == 1 ? "1 person is" : work.people() + " people are")
                  + " signed in and will be shut out for the switch.",
              work.people(),
              "",
              null));
    }
  }

  private static void onlyThere(ItemsCase c, Consumer<Finding> out) {
    if (!c.onlyThere().isEmpty()) {
      List<String> names = c.onlyThere().stream().map(ComponentKey::toString).toList();
      out.accept(
          Finding.of(
              "only-there",
              Severity.NOTE,
              c.site(),
              Words.count(names.size(), "component")
                  + (names.size() == 1 ? " is" : " are")
                  + " only there and left alone: "
                  + named(names)
                  + ".",
              names.size(),
              "Take what belongs to the application into a draft from there",
              null));
    }
  }

  private static String set(ItemsCase c, String input) {
    return "plenzo binding set " + c.application() + " " + input + " --at " + c.site();
  }
}
