package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.api.Stages.RuleView;
import plenzo.api.Stages.SeverityView;
import plenzo.api.Stages.StageView;

/** How bad a stage finds what a rule finds, as the client sends and says it. */
class StageSeverityTest {
  private static final SeverityView LOWERED =
      new SeverityView("other-open", "at-most", "note", "All try things here");

  private CannedServer server;

  @BeforeEach
  void start() throws IOException {
    server = new CannedServer();
    StageView stage = stage(LOWERED);
    server.give("GET /stages", List.of(stage));
    server.give("PUT /stages/test", stage);
    server.give(
        "GET /rules",
        List.of(
            new RuleView("house-style", null, true),
            new RuleView("other-open", "risk", true),
            new RuleView("wrong-identity", "blocker", false)));
  }

  private static StageView stage(SeverityView... own) {
    return new StageView(
        "test", "Test", "test", 1, "UTC", false, List.of(), 3, List.of(own), List.of());
  }

  @AfterEach
  void stop() {
    server.close();
  }

  private String sent() {
    return server.asked().get(server.asked().size() - 1);
  }

  @Test
  void isSentBesideTheOthers() {
    server.give(
        "PUT /stages/test",
        stage(LOWERED, new SeverityView("arrives-off", "at-least", "blocker", "")));

    CannedServer.Said said =
        server.client("stage", "severity", "test", "arrives-off", "--at-least", "blocker");

    assertThat(said.out())
        .isEqualTo("At stage test what arrives-off finds is at least a blocker.\n");
    assertThat(sent())
        .contains("\"rule\":\"other-open\",\"bound\":\"at-most\"")
        .contains("\"rule\":\"arrives-off\",\"bound\":\"at-least\",\"severity\":\"blocker\"");
  }

  @Test
  void isTakenBack() {
    server.give("PUT /stages/test", stage());

    CannedServer.Said said = server.client("stage", "severity", "test", "other-open", "--as-built");

    assertThat(said.out()).isEqualTo("Stage test judges other-open as the rule does.\n");
    assertThat(sent()).contains("\"severities\":[]");
  }

  @Test
  void oneOfThreeIsSaid() {
    CannedServer.Said said =
        server.client(
            "stage", "severity", "test", "other-open", "--at-least", "risk", "--as-built");

    assertThat(said.code()).isEqualTo(Failed.USAGE);
    assertThat(said.err()).contains("Say one of --at-least, --at-most and --as-built");
  }

  @Test
  void everyRuleIsListedWithWhatItIsHere() {
    String out = server.client("stage", "rules", "test").out();

    assertThat(out)
        .containsPattern("other-open\\trisk\\tat most note\\tyes\\tAll try things here")
        .containsPattern("wrong-identity\\tblocker\\tthe same\\tno")
        .containsPattern("house-style\\trisk\\tthe same\\tyes");
  }
}
