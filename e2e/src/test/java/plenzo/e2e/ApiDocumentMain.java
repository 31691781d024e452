package plenzo.e2e;

import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import tools.jackson.databind.SerializationFeature;
import tools.jackson.databind.cfg.JsonNodeFeature;
import tools.jackson.databind.json.JsonMapper;

/** Saves the API's document as the service serves it, sorted: {@code FILE}. */
public final class ApiDocumentMain {
  private ApiDocumentMain() {}

  public static void main(String[] args) throws Exception {
    JsonMapper sorted =
        JsonMapper.builder()
            .enable(JsonNodeFeature.WRITE_PROPERTIES_SORTED)
            .enable(SerializationFeature.INDENT_OUTPUT)
            .build();
    try (TestService service = new TestService("document");
        var out = Files.newOutputStream(Path.of(args[0]))) {
      HttpResponse<String> now =
          HttpClient.newHttpClient()
              .send(
                  HttpRequest.newBuilder(URI.create(service.address() + "/api/openapi")).build(),
                  HttpResponse.BodyHandlers.ofString());
      out.write(sorted.writeValueAsBytes(sorted.readTree(now.body())));
      out.write('\n');
    }
    System.exit(0);
  }
}
