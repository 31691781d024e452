package plenzo.core.impact;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.SortedSet;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Consumer;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import plenzo.core.component.Kind;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.object.GrantedRights;
import plenzo.core.object.ObjectDelta;
import plenzo.core.object.SchemaObject;
import plenzo.core.table.Renaming;

/** Rules about what roles may do, and whether the site has those roles. */
final class GrantRules {
  static final List<Rule<ImpactCase>> ALL =
      List.of(
          Rule.of("role-missing", Severity.BLOCKER, GrantRules::missing),
          Rule.of("owner-granted", Severity.BLOCKER, GrantRules::owner),
          Rule.of("cannot-enter", Severity.RISK, GrantRules::shutOut),
          Rule.of("rights-change", Severity.RISK, GrantRules::changed));

  private static final Pattern ROLE = Pattern.compile("\"((?:[^\"]|\"\")+)\"|([^\\s,\"]+)");

  private GrantRules() {}

  /** Roles by what names them and comes. */
  private static Map<String, Set<String>> named(ImpactCase impact) {
    Map<String, Set<String>> out = new TreeMap<>();
    for (ObjectDelta o : impact.delta().objects()) {
      SchemaObject result = o.result();
      if (result != null && o.changes()) {
        roles(result)
            .forEach(r -> out.computeIfAbsent(r, n -> new TreeSet<>()).add(o.key().toString()));
      }
    }
    return out;
  }

  private static List<String> roles(SchemaObject o) {
    List<String> out = new ArrayList<>();
    if (o.sort() == SchemaObject.Sort.GRANT) {
      out.add(o.name().name());
    } else if (o.sort() == SchemaObject.Sort.POLICY) {
      Matcher m = ROLE.matcher(o.parts().getOrDefault("roles", ""));
      while (m.find()) {
        out.add(m.group(1) == null ? m.group(2) : m.group(1).replace("\"\"", "\""));
      }
    }
    out.remove(GrantedRights.EVERYBODY);
    return out;
  }

  private static void missing(ImpactCase impact, Consumer<Finding> found) {
    Map<String, Set<String>> named = named(impact);
    if (named.isEmpty()) {
      return;
    }
    for (String role : impact.target().lackedRoles(named.keySet())) {
      Set<String> by = named.get(role);
      if (by == null) {
        continue;
      }
      found.accept(
          Finding.of(
              "role-missing",
              Severity.BLOCKER,
              "role " + role,
              String.join(", ", by)
                  + (by.size() == 1 ? " names" : " name")
                  + " the role "
                  + role
                  + ", which the site's server does not have.",
              by.size(),
              "An administrator of the server creates it, or leave "
                  + (by.size() == 1 ? "it" : "them")
                  + " out of the version",
              null));
    }
  }

  private static void owner(ImpactCase impact, Consumer<Finding> found) {
    for (ObjectDelta o : impact.delta().objects()) {
      SchemaObject result = o.result();
      if (result != null
          && o.key().kind() == Kind.GRANT
          && result.name().name().equals(impact.target().maker())) {
        found.accept(
            Finding.said(
                "owner-granted",
                Severity.BLOCKER,
                o.key().toString(),
                "At the site "
                    + result.name().name()
                    + " is the account that changes things and owns what it makes, so what it may do is not the version's to say.",
                "Leave " + o.key() + " out of the version"));
      }
    }
  }

  /** A right to a thing is of no use to whoever may not enter its schema. */
  private static void shutOut(ImpactCase impact, Consumer<Finding> found) {
    Map<String, Set<String>> roles = new TreeMap<>();
    for (ObjectDelta o : impact.delta().objects()) {
      SchemaObject result = o.result();
      if (o.key().kind() == Kind.GRANT
          && result != null
          && o.changes()
          && !GrantedRights.isTaken(result)) {
        roles
            .computeIfAbsent(result.name().schema(), s -> new TreeSet<>())
            .add(result.name().name());
      }
    }
    roles.forEach(
        (schema, names) ->
            impact
                .target()
                .shutOut(schema, names)
                .forEach(
                    role ->
                        found.accept(
                            Finding.said(
                                "cannot-enter",
                                Severity.RISK,
                                "schema " + schema + " for " + role,
                                role
                                    + " gets rights to things in "
                                    + schema
                                    + " and may not enter that schema.",
                                "As its owner: GRANT USAGE ON SCHEMA "
                                    + Renaming.quoted(schema)
                                    + " TO "
                                    + (role.equals(GrantedRights.EVERYBODY)
                                        ? role
                                        : Renaming.quoted(role))))));
  }

  private static void changed(ImpactCase impact, Consumer<Finding> found) {
    for (ObjectDelta o : impact.delta().objects()) {
      if (o.key().kind() != Kind.GRANT || !o.changes()) {
        continue;
      }
      SchemaObject any = o.result() == null ? o.was() : o.becomes();
      boolean everybody = any.name().name().equals(GrantedRights.EVERYBODY);
      SortedSet<String> without = without(o);
      SortedSet<String> was = GrantedRights.may(o.present(), without);
      SortedSet<String> is = GrantedRights.may(o.result(), without);
      List<String> gains = is.stream().filter(r -> !was.contains(r)).toList();
      List<String> loses = was.stream().filter(r -> !is.contains(r)).toList();
      found.accept(
          Finding.said(
              "rights-change",
              !loses.isEmpty() || everybody ? Severity.RISK : Severity.NOTE,
              o.key().toString(),
              (everybody ? "Everybody" : any.name().name())
                  + (gains.isEmpty() ? "" : " may from now on " + String.join(", ", gains))
                  + (gains.isEmpty() || loses.isEmpty() ? "" : " and")
                  + (loses.isEmpty() ? "" : " may no longer " + String.join(", ", loses))
                  + ": "
                  + any.name().schema()
                  + "."
                  + any.name().table()
                  + ".",
              "See that those who work by it are meant to"));
    }
  }

  /** What is theirs without a grant: where one says that they lack it, they have it else. */
  private static SortedSet<String> without(ObjectDelta o) {
    SortedSet<String> out = new TreeSet<>();
    for (SchemaObject side : Arrays.asList(o.present(), o.result())) {
      if (side != null && GrantedRights.isTaken(side)) {
        out.addAll(side.parts().keySet());
      }
    }
    return out;
  }
}
