package plenzo.engine.promoting;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.util.Base64;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import plenzo.core.json.Json;
import plenzo.core.promotion.OutsideAnswer;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.stage.Leg;
import plenzo.core.stage.OutsideYes;
import plenzo.core.target.TargetFailed;
import plenzo.engine.kit.KitTest;

/** Somebody else's yes over the network: to this very plan, in time, or it is no. */
class OutsideTest extends KitTest {
  private Promotion p;

  @BeforeEach
  void world() {
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
    asks(new OutsideYes("change desk", "https://desk.morrowick.example/ask", 10));
    kit.engine().keys().make(kit.ines, "Morrowick");
    p = kit.prepare("1.1.0");
  }

  private void asks(OutsideYes outside) {
    kit.asks(Leg.open("production").outside(outside));
  }

  private String fingerprint() {
    return p.requirePlan().fingerprint().digest().hex();
  }

  private OutsideAnswer ask() {
    p = kit.engine().outside().ask(kit.ines, p.number());
    return java.util.Objects.requireNonNull(p.outside());
  }

  private List<String> open() {
    return kit.engine().promotions().gates(kit.promotion(p.number())).lines();
  }

  @Test
  void itIsReadyUntilTheyWereAskedAndAgreedWithTheirYes() {
    assertThat(open()).containsExactly("change desk was not asked");
    assertThat(p.state()).isEqualTo(PromotionState.READY);
    kit.outside = d -> answer(fingerprint(), "true", "CHG-7");

    OutsideAnswer said = ask();

    assertThat(said.yes()).isTrue();
    assertThat(said.said()).isEqualTo("CHG-7");
    assertThat(open()).isEmpty();
    assertThat(p.state()).isEqualTo(PromotionState.AGREED);
    assertThat(kit.history().get(0).event()).isEqualTo("yes from outside");
    assertThat(kit.history().get(0).text()).contains("change desk at https://desk", "CHG-7");
  }

  private static String answer(String fingerprint, String yes, String reason) {
    return "{\"yes\":"
        + yes
        + ",\"fingerprint\":\""
        + fingerprint
        + "\",\"reason\":\""
        + reason
        + "\"}";
  }

  @Test
  void theQuestionIsSignedAndSaysWhatItIsAbout() {
    ask();

    Json.Obj envelope = Json.parseObject(kit.asked.get(0));
    assertThat(envelope.text("payloadType")).isEqualTo(Outside.TYPE);
    assertThat(envelope.list("signatures")).hasSize(1);
    Json.Obj question =
        Json.parseObject(
            new String(
                Base64.getDecoder().decode(envelope.text("payload")), StandardCharsets.UTF_8));
    assertThat(question.text("promotion")).isEqualTo(p.shown());
    assertThat(question.text("version")).isEqualTo("1.1.0");
    assertThat(question.text("site")).isEqualTo("production/main");
    assertThat(question.text("fingerprint")).isEqualTo(fingerprint());
    assertThat(question.text("askedBy")).isEqualTo("ines");
  }

  @Test
  void noAnswerIsNo() {
    OutsideAnswer said = ask();

    assertThat(said.yes()).isFalse();
    assertThat(open())
        .containsExactly("change desk said no: nobody answers; no answer counts as no");
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "{\"yes\":true}",
        "{\"yes\":true,\"fingerprint\":\"another\"}",
        "{\"yes\":\"true\",\"fingerprint\":\"OWN\"}",
        "{\"yes\":1,\"fingerprint\":\"OWN\"}",
        "{\"fingerprint\":\"OWN\"}",
        "{\"yes\":false,\"fingerprint\":\"OWN\"}",
        "[true]",
        "yes",
        "{\"yes\":true,\"yes\":true,\"fingerprint\":\"OWN\"}",
        ""
      })
  void whateverIsNoPlainYesToThisPlanIsNo(String answer) {
    kit.outside = d -> answer.replace("OWN", fingerprint());

    assertThat(ask().yes()).isFalse();
    assertThat(open()).hasSize(1);
  }

  @Test
  void aYesFallsWithItsPlanAndWithWhoIsAsked() {
    kit.outside = d -> answer(fingerprint(), "true", "");
    ask();
    kit.production().row("fares.band", java.util.Map.of("code", "PEAK", "amount", "21.00"));
    kit.engine().promotions().compareAgain(kit.ines, p.number());
    kit.settleDown();
    p = kit.promotion(p.number());

    assertThat(open()).contains("change desk was asked about another plan than this one");

    asks(new OutsideYes("change desk", "https://other.morrowick.example/ask", 10));
    p = kit.promotion(p.number());
    kit.outside = d -> answer(fingerprint(), "true", "");
    ask();
    assertThat(open()).noneMatch(line -> line.contains("change desk"));
  }

  @Test
  void nobodyIsAskedWithoutAKeyOrWhereNobodyIs() {
    kit.engine()
        .keys()
        .list(kit.ines)
        .forEach(k -> kit.engine().keys().revoke(kit.ines, k.id(), "lost"));
    assertThatThrownBy(this::ask).hasMessageContaining("no key of its own");
    assertThat(kit.asked).isEmpty();

    kit.asks(Leg.open("production"));
    assertThatThrownBy(this::ask).hasMessageContaining("asks nobody outside");
  }

  @Test
  void whatTheySaidIsKeptAsTheySaidItButNotWithoutEnd() {
    kit.outside =
        d -> {
          throw new TargetFailed("x".repeat(2000), true, new IllegalStateException());
        };

    assertThat(ask().said()).hasSize(OutsideAnswer.LONGEST);
  }
}
