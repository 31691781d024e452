package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.api.Tellings.DeliveryView;
import plenzo.api.Tellings.WebhookMade;
import plenzo.api.Tellings.WebhookView;

/** Addresses that are told what happens, as the client sends and says it. */
class WebhookTest {
  private static final Instant AT = Instant.parse("2027-03-02T22:00:00Z");
  private static final WebhookView CHAT =
      new WebhookView(
          "chat",
          "https://chat.example/in",
          List.of("production"),
          List.of("fares"),
          List.of("run done"),
          true,
          "admin",
          AT,
          3);

  private CannedServer server;

  @BeforeEach
  void start() throws IOException {
    server = new CannedServer();
    server
        .give("GET /webhooks", List.of(CHAT))
        .give("POST /webhooks", new WebhookMade(CHAT, "once-only"))
        .give("PUT /webhooks/chat", CHAT);
  }

  @AfterEach
  void stop() {
    server.close();
  }

  @Test
  void itsSecretIsSaidOnce() {
    String out =
        server
            .client(
                "webhook",
                "add",
                "chat",
                "--address",
                "https://chat.example/in",
                "--stage",
                "production",
                "--event",
                "run done")
            .out();

    assertThat(out)
        .isEqualTo(
            "chat is told of run done of fares at production at https://chat.example/in.\n"
                + "Secret, shown once: once-only\n");
    assertThat(server.asked()).anyMatch(a -> a.contains("\"events\":[\"run done\"]"));
    assertThat(server.client("webhook", "list").out()).doesNotContain("once-only");
  }

  @Test
  void whatIsNotNamedStays() {
    server.client("webhook", "change", "chat", "--active", "false");

    assertThat(server.asked().get(server.asked().size() - 1))
        .contains("\"active\":false", "\"stages\":[\"production\"]", "\"revision\":3");
    assertThat(server.client("webhook", "change", "board").code()).isEqualTo(Failed.NOT_FOUND);
  }

  @Test
  void whatWentOutSaysWhatCameOfIt() {
    DeliveryView d =
        new DeliveryView("DV-9", "chat", 41, "run done", "given-up", 8, null, "nobody answers", AT);
    server.give("GET /deliveries", List.of(d)).give("POST /deliveries/DV-9/replay", d);

    assertThat(server.client("webhook", "deliveries", "chat").out())
        .contains("DV-9\tchat\trun done\tgiven-up\t8\t\tnobody answers");
    assertThat(server.client("webhook", "replay", "DV-9").out())
        .isEqualTo("DV-9 goes to chat once more.\n");
  }
}
