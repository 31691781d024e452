package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.api.People.AccessKeyView;
import plenzo.api.People.Grant;
import plenzo.api.People.HeldRole;
import plenzo.api.People.MadeToken;
import plenzo.api.People.Only;
import plenzo.api.People.PersonView;
import plenzo.api.People.RoleView;
import plenzo.api.Stages.WorkItemView;
import plenzo.api.Stages.WorkView;

/**
 * Roles, rights and tokens by the client: what is sent is what was said, and what is read is whole.
 */
class WhoMayTest {
  private static final Instant AT = Instant.parse("2027-03-01T08:00:00Z");
  private static final RoleView TESTER =
      new RoleView("tester", "Tester", List.of("look", "judge"), 3);

  private CannedServer server;

  @BeforeEach
  void start() throws IOException {
    server = new CannedServer();
    server.give("GET /roles", List.of(TESTER)).give("GET /people/edda", edda());
  }

  @AfterEach
  void stop() {
    server.close();
  }

  private static PersonView edda() {
    return new PersonView(
        "edda",
        "Edda",
        false,
        false,
        List.of(new Grant("look", "*", "*")),
        List.of(new HeldRole("tester", "test", "*")),
        List.of("edda@morrowick.example"),
        7);
  }

  @Test
  void saysUnderWhichAddressesSomebodyWrites() {
    server.give("PUT /people/edda", edda());

    assertThat(server.client("user", "writes-as", "edda", "a@x.example", "b@x.example").out())
        .contains("edda writes in repositories as a@x.example, b@x.example.");
    assertThat(sent("PUT /people/edda"))
        .endsWith(
            "{\"name\":null,\"disabled\":null,\"writesAs\":[\"a@x.example\",\"b@x.example\"]}");
    assertThat(server.client("user", "writes-as", "edda").out()).contains("as nobody known");
    assertThat(sent("PUT /people/edda")).endsWith("\"writesAs\":[]}");
  }

  private String sent(String call) {
    return server.asked().stream()
        .filter(a -> a.startsWith(call))
        .reduce((first, last) -> last)
        .orElseThrow();
  }

  @Test
  void showsRolesAndWhatSomebodyHas() {
    assertThat(server.client("role", "list").out()).contains("tester").contains("look judge");
    assertThat(server.client("role", "list", "edda").out())
        .containsPattern("role tester\\s+test\\s+\\*")
        .containsPattern("look\\s+\\*\\s+\\*");
  }

  @Test
  void givesRolesAndRightsTogetherAndKeepsWhatIsThere() {
    server.give("PUT /people/edda/grants", edda());

    CannedServer.Said said =
        server.client("role", "grant", "edda", "tester", "run", "--stage", "production");

    assertThat(said.code()).isZero();
    assertThat(said.out()).isEqualToIgnoringNewLines("edda has 1 role, 1 right.");
    assertThat(sent("PUT"))
        .contains("{\"right\":\"look\",\"stage\":\"*\",\"application\":\"*\"}")
        .contains("{\"right\":\"run\",\"stage\":\"production\",\"application\":\"*\"}")
        .contains("{\"role\":\"tester\",\"stage\":\"test\",\"application\":\"*\"}")
        .contains("{\"role\":\"tester\",\"stage\":\"production\",\"application\":\"*\"}")
        .contains("\"revision\":7");
  }

  @Test
  void takesAwayWhatIsThereAndSaysWhatIsNot() {
    server.give("PUT /people/edda/grants", edda());

    assertThat(server.client("role", "revoke", "edda", "tester", "--stage", "test").code())
        .isZero();
    assertThat(sent("PUT")).contains("\"roles\":[]").contains("\"right\":\"look\"");

    CannedServer.Said nothing =
        server.client("role", "revoke", "edda", "tester", "--stage", "production");
    assertThat(nothing.code()).isEqualTo(5);
    assertThat(nothing.err()).contains("edda does not have tester there");
  }

  @Test
  void changesARoleAsItWasLookedAtAndKeepsItsName() {
    server.give("PUT /roles/tester", TESTER);

    server.client("role", "define", "tester", "look", "judge");

    assertThat(sent("PUT"))
        .contains("\"name\":\"Tester\"")
        .contains("\"rights\":[\"look\",\"judge\"]")
        .contains("\"revision\":3");
  }

  @Test
  void narrowsATokenByEachOption() {
    server.give("POST /tokens", new MadeToken("a", "build", AT, "SECRET"));

    CannedServer.Said said =
        server.client(
            "token", "new", "build", "--right", "look", "--right", "run", "--stage", "test",
            "--app", "fares", "--days", "30");

    assertThat(said.out()).isEqualToIgnoringNewLines("SECRET");
    assertThat(sent("POST"))
        .contains(
            "\"only\":{\"rights\":[\"look\",\"run\"],\"stages\":[\"test\"],\"applications\":[\"fares\"]}")
        .contains("\"days\":30");

    server.client("token", "new", "build");
    assertThat(sent("POST")).contains("\"only\":{\"rights\":[],\"stages\":[],\"applications\":[]}");
  }

  @Test
  void readsWhatAKeyWasNarrowedTo() {
    server.give(
        "GET /people/edda/keys",
        List.of(
            new AccessKeyView("a", "browser", false, AT, AT, null),
            new AccessKeyView(
                "b",
                "build",
                true,
                AT,
                AT,
                new Only(List.of("look"), List.of("test"), List.of("fares")))));

    assertThat(server.client("user", "keys", "edda").out())
        .contains("look at test for fares")
        .contains("session");
  }

  @Test
  void saysThatSomeWorkIsNotShown() {
    server.give(
        "GET /sites/production/north/work",
        new WorkView(
            List.of(new WorkItemView("1", "counts", "marit", "rule/fares.ceiling")), 2, 4, false));

    assertThat(server.client("maintenance", "show", "production/north").out())
        .contains("4 people are signed in, 3 pieces of work run, 2 of them not shown to you.")
        .contains("counts of marit in rule/fares.ceiling");
  }
}
