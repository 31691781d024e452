package plenzo.core.impact;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import plenzo.core.component.ComponentKey;
import plenzo.core.object.ObjectDelta;
import plenzo.core.object.ObjectDelta.Act;
import plenzo.core.object.SchemaObject;
import plenzo.core.object.SchemaObject.Sort;
import plenzo.core.target.Question;
import plenzo.core.target.TablesDelta;

/** Each rule at the smallest case that violates it, and one just short of it. */
class GrantRulesTest {
  private static final String DESK = "grant/fares.band.desk";
  private static final String CALL = "grant/fares.\"half(integer)\".PUBLIC";

  /** A server with the roles desk and PUBLIC, where nobody but desk may enter fares. */
  private static final ImpactCase.Asking SERVER =
      new ImpactCase.Asking() {
        @Override
        public Question.Answer answer(Question question) {
          throw new IllegalStateException("Nothing is asked");
        }

        @Override
        public Set<String> lackedRoles(Set<String> roles) {
          return roles.stream().filter(r -> !r.equals("desk")).collect(Collectors.toSet());
        }

        @Override
        public Set<String> shutOut(String schema, Set<String> roles) {
          return lackedRoles(roles);
        }

        @Override
        public String maker() {
          return "changer";
        }
      };

  private static SchemaObject object(String key, Sort sort, Map<String, String> parts) {
    return new SchemaObject(
        ComponentKey.of(key),
        sort,
        List.of(),
        new TreeMap<>(parts),
        "",
        null,
        List.of(),
        List.of());
  }

  private static SchemaObject grant(String key, String... rights) {
    Map<String, String> parts = new TreeMap<>();
    for (String right : rights) {
      String[] said = right.split(": ");
      parts.put(said[0], said.length == 1 ? "yes" : said[1]);
    }
    return object(key, Sort.GRANT, parts);
  }

  private static List<Finding> found(@Nullable SchemaObject was, @Nullable SchemaObject is) {
    ComponentKey key = (is == null ? java.util.Objects.requireNonNull(was) : is).key();
    Act act = was == null ? Act.MAKE : is == null ? Act.DROP : Act.ALTER;
    return Rules.run(
        GrantRules.ALL,
        new ImpactCase(
            List.of(),
            Map.of(),
            new TablesDelta(
                List.of(), List.of(), List.of(new ObjectDelta(key, act, was, is, List.of()))),
            Map.of(),
            Map.of(),
            List.of(),
            (component, difference, limit, row) -> {},
            SERVER));
  }

  private static List<String> places(@Nullable SchemaObject was, @Nullable SchemaObject is) {
    return found(was, is).stream()
        .map(f -> f.severity() + " " + f.rule() + " " + f.place())
        .toList();
  }

  private static List<String> said(@Nullable SchemaObject was, @Nullable SchemaObject is) {
    return found(was, is).stream()
        .filter(f -> f.rule().equals("rights-change"))
        .map(f -> f.severity() + " rights-change " + f.sentence())
        .toList();
  }

  @Test
  void aRoleMustBeThere() {
    assertThat(places(null, grant("grant/fares.band.night", "SELECT")))
        .contains("BLOCKER role-missing role night");
    assertThat(places(null, grant(DESK, "SELECT"))).containsExactly("NOTE rights-change " + DESK);
    assertThat(places(grant("grant/fares.band.night", "SELECT"), null))
        .as("what goes needs no role")
        .containsExactly("RISK rights-change grant/fares.band.night");
  }

  @Test
  void rolesOfPoliciesToo() {
    String policy = "policy/fares.band.own";
    assertThat(
            places(
                null,
                object(policy, Sort.POLICY, Map.of("roles", "PUBLIC, desk, \"Night \"\"Shift\""))))
        .containsExactly("BLOCKER role-missing role Night \"Shift");
    assertThat(places(null, object(policy, Sort.POLICY, Map.of("roles", "PUBLIC")))).isEmpty();
  }

  @Test
  void whoChangesThingsOwnsThem() {
    assertThat(places(null, grant("grant/fares.band.changer", "SELECT")))
        .contains("BLOCKER owner-granted grant/fares.band.changer");
  }

  @Test
  void aRightIsOfNoUseToWhoMayNotEnter() {
    assertThat(places(null, grant("grant/fares.band.PUBLIC", "SELECT")))
        .containsExactly(
            "RISK cannot-enter schema fares for PUBLIC",
            "RISK rights-change grant/fares.band.PUBLIC");
    assertThat(places(null, grant(CALL, "EXECUTE: no")))
        .as("it is taken away")
        .containsExactly("RISK rights-change " + CALL);
  }

  @Test
  void whatSomebodyMayDoFromNowOnIsSaid() {
    assertThat(said(null, grant(DESK, "SELECT", "UPDATE (note)")))
        .containsExactly(
            "NOTE rights-change desk may from now on SELECT, UPDATE (note): fares.band.");
    assertThat(said(grant(DESK, "SELECT", "INSERT"), grant(DESK, "DELETE", "INSERT")))
        .containsExactly(
            "RISK rights-change desk may from now on DELETE and may no longer SELECT: fares.band.");
    assertThat(said(grant(DESK, "SELECT"), grant(DESK, "SELECT: may be passed on")))
        .containsExactly("NOTE rights-change desk may from now on pass SELECT on: fares.band.");
    assertThat(said(grant(DESK, "SELECT"), grant(DESK, "SELECT"))).isEmpty();
  }

  @Test
  void whatEverybodyMayOfARoutineIsTakenAwayAndGivenBack() {
    assertThat(said(null, grant(CALL, "EXECUTE: no")))
        .containsExactly(
            "RISK rights-change Everybody may no longer EXECUTE: fares.half(integer).");
    assertThat(said(grant(CALL, "EXECUTE: no"), null))
        .containsExactly(
            "RISK rights-change Everybody may from now on EXECUTE: fares.half(integer).");
  }
}
